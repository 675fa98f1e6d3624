// The command that tries a treatment on some frames of a clip. Plain JavaScript: nothing is compiled on the way.
import { start } from './start.mjs';

await start('try');

// The command that measures a clip. Plain JavaScript: nothing is compiled on the way.
import { start } from './start.mjs';

await start('measure');

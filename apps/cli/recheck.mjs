// The command that proves a repaired file against its original. Plain JavaScript: nothing is compiled on the way.
import { start } from './start.mjs';

await start('recheck');

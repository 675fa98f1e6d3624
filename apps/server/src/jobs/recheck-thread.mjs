// A worker thread begins in plain JavaScript: its first module is loaded before TypeScript is known to it, and what that
// loads later would not be found.
import { register } from 'tsx/esm/api';

register();
const { default: attempt } = await import('./recheck-task.ts');
export default attempt;

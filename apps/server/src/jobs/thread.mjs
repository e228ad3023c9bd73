// A worker thread starts without the loader that lets Node run TypeScript, so it is registered here first.
import { register } from 'tsx/esm/api';

register();
const { work } = await import('./worker.ts');
export default work;
/** Nothing: the thread is only to be there. */
export const warm = () => null;

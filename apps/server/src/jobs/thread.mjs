// A worker thread starts without the loader that lets Node run TypeScript, so it is registered here first.
import { register } from 'tsx/esm/api';

register();
const { work } = await import('./worker.ts');
export default work;

// A worker thread starts without the loader that lets Node run TypeScript, so it is registered here first.
import { register } from 'tsx/esm/api';

register();
await import('./worker.ts');

// Makes a new, empty database in the folder given. A process of its own, which needs the loader for TypeScript first.
import process from 'node:process';
import { register } from 'tsx/esm/api';

register();
const { openFiles } = await import('./open.ts');
const client = await openFiles(process.argv[2]);
await client.close();
process.exit(0);

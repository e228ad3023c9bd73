// Makes a new, empty database in the folder given. A process of its own.
import process from 'node:process';
import { openFiles } from './open.ts';

const [, , folder] = process.argv;
if (!folder) throw new Error('No folder was named.');
const client = await openFiles(folder);
await client.close();
process.exit(0);

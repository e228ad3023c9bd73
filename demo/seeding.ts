// Brings the sample projects into a server: seeding.ts ADDRESS FOLDER. A process of its own: making them takes memory that the
// server would keep.
import process from 'node:process';
import { seed } from './seed.ts';

const [, , base, data] = process.argv;
if (!base || !data) throw new Error('Say the address of the server and its folder of data.');
await seed(base, data);

// npm run serve: the server without sample projects.
import process from 'node:process';
import { startServer } from './server.mjs';

startServer('apps/server/src/main.ts', process.argv.slice(2));

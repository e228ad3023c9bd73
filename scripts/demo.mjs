// npm run demo: installs what is missing, builds the interface, starts Gephyra with its sample projects.
import { join } from 'node:path';
import process from 'node:process';
import { startServer } from './server.mjs';
import { installPackages, root, run } from './setup.mjs';

installPackages();
run(process.execPath, [join(root, 'node_modules/vite/bin/vite.js'), 'build', 'apps/web', '--logLevel', 'error']);
startServer('demo/main.ts', process.argv.slice(2));

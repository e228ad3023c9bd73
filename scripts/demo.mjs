// npm run demo: installs what is missing, builds the interface, starts Gephyra with its sample projects.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { installPackages, root, run } from './setup.mjs';

installPackages();
run(process.execPath, [join(root, 'node_modules/vite/bin/vite.js'), 'build', 'apps/web', '--logLevel', 'error']);
const child = spawn(process.execPath, ['--import', 'tsx', 'demo/main.ts', ...process.argv.slice(2)], {
  cwd: root,
  stdio: 'inherit',
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => child.kill(signal));
child.on('exit', (code) => process.exit(code ?? 0));

// What `npm run demo` and `npm test` need before they can start: packages, and for tests a browser.
import { execFileSync } from 'node:child_process';
import { existsSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = dirname(dirname(fileURLToPath(import.meta.url)));
const npm = process.platform === 'win32' ? 'npm.cmd' : 'npm';

/** Runs a program in the project's folder, its output passed on. Throws when it fails. */
export function run(program, args, env = {}) {
  execFileSync(program, args, { cwd: root, stdio: 'inherit', env: { ...process.env, ...env } });
}

/** Installs the packages when they are missing or older than the lock file. */
export function installPackages() {
  const mark = join(root, 'node_modules', '.package-lock.json');
  if (existsSync(mark) && statSync(mark).mtimeMs >= statSync(join(root, 'package-lock.json')).mtimeMs) return;
  console.log('Installing packages …');
  run(npm, ['install', '--no-audit', '--no-fund']);
}

/** Finds Chromium, or installs Debian's where that is possible. Returns its path. */
export function findChromium() {
  const known = [process.env.CHROMIUM_PATH, '/usr/bin/chromium', '/usr/bin/chromium-browser'].filter(Boolean);
  const found = () => known.find((path) => existsSync(path));
  if (!found() && existsSync('/etc/debian_version')) {
    console.log('Installing Chromium …');
    const asRoot = process.getuid?.() === 0 ? [] : ['sudo'];
    const apt = (...args) => {
      const [program, ...rest] = [...asRoot, 'apt-get', ...args];
      run(program, rest, { DEBIAN_FRONTEND: 'noninteractive' });
    };
    apt('update', '-qq');
    apt('install', '-y', '-qq', 'chromium');
  }
  const path = found();
  if (!path) throw new Error('Chromium was not found. Install it, or set CHROMIUM_PATH to its program.');
  return path;
}

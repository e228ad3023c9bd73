// What `npm run demo` and `npm test` need before they can start: packages, and for tests a browser.
import { execFileSync } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, readdirSync, rmSync, statSync } from 'node:fs';
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

/**
 * Fetches model files that other programs wrote, as test input: the samples of a general-purpose import library, a package
 * of Debian's. They are unpacked beside the build's scratch and never become part of the project. Without Debian's tools
 * the tests that read them have nothing to read.
 */
export function fetchSampleModels() {
  const folder = join(root, '.cache', 'models');
  if (existsSync(folder) || !existsSync('/etc/debian_version')) return;
  console.log('Fetching sample models …');
  const temp = join(root, '.cache', 'models.part');
  rmSync(temp, { recursive: true, force: true });
  mkdirSync(temp, { recursive: true });
  const quiet = { cwd: temp, stdio: 'ignore' };
  try {
    try {
      execFileSync('apt-get', ['download', '-qq', 'assimp-testmodels'], quiet);
    } catch {
      const asRoot = process.getuid?.() === 0 ? [] : ['sudo'];
      const [program, ...rest] = [...asRoot, 'apt-get', 'update', '-qq'];
      execFileSync(program, rest, quiet);
      execFileSync('apt-get', ['download', '-qq', 'assimp-testmodels'], quiet);
    }
    const [deb] = readdirSync(temp).filter((n) => n.endsWith('.deb'));
    execFileSync('dpkg-deb', ['-x', deb, 'all'], quiet);
    const models = join(temp, 'all', 'usr', 'share', 'assimp', 'models');
    mkdirSync(folder, { recursive: true });
    for (const kind of ['OBJ', 'PLY', 'STL', '3MF', 'invalid']) {
      if (existsSync(join(models, kind))) cpSync(join(models, kind), join(folder, kind), { recursive: true });
    }
  } catch (error) {
    console.log(`Sample models could not be fetched: ${error.message}`);
  } finally {
    rmSync(temp, { recursive: true, force: true });
  }
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

// Lint, types, unit tests, end-to-end tests. The last line gives the true totals.
import { spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { fetchSampleModels, findChromium, installPackages, root } from './setup.mjs';

installPackages();
const chromium = findChromium();
fetchSampleModels();
const out = join(root, '.cache', 'test');
rmSync(out, { recursive: true, force: true });
mkdirSync(out, { recursive: true });

let passed = 0;
let failed = 0;
// passed only when they ran again
let flaky = 0;

const bin = (command) => join(root, 'node_modules', '.bin', command);
const environment = { ...process.env, CHROMIUM_PATH: chromium };

/** Runs a step to its end, its output passed on. */
function step(name, command, args, env = {}) {
  console.log(`\n== ${name}`);
  return spawnSync(bin(command), args, { cwd: root, stdio: 'inherit', env: { ...environment, ...env } }).status === 0;
}

/** Counts a step as one check. */
function check(ok) {
  if (ok) passed++;
  else failed++;
}

/** Adds a runner's totals; a runner that fell over without a report counts as one failure. */
function count(ok, file, read) {
  let sums = { passed: 0, failed: 0 };
  try {
    sums = read(JSON.parse(readFileSync(file, 'utf8')));
  } catch {
    ok = false;
  }
  passed += sums.passed;
  failed += sums.failed === 0 && !ok ? 1 : sums.failed;
}

// types are checked beside lint and build
const types = once(spawn(bin('tsc'), ['-p', 'tsconfig.json', '--noEmit'], { cwd: root, stdio: 'inherit' }), 'exit');
check(step('lint', 'biome', ['check', '.']));
const built = step('build', 'vite', ['build', 'apps/web', '--logLevel', 'warn']);
console.log('\n== types');
check((await types)[0] === 0);

const unit = join(out, 'unit.json');
const unitOk = step('unit tests', 'vitest', [
  'run',
  '--reporter=default',
  '--reporter=json',
  `--outputFile.json=${unit}`,
]);
count(unitOk, unit, (r) => ({ passed: r.numPassedTests, failed: r.numFailedTests }));

const e2e = join(out, 'e2e.json');
if (built) {
  const e2eOk = step('end-to-end tests', 'playwright', ['test', '-c', 'e2e/playwright.config.ts'], {
    PLAYWRIGHT_JSON_OUTPUT_NAME: e2e,
  });
  count(e2eOk, e2e, (r) => {
    flaky = r.stats.flaky;
    return { passed: r.stats.expected + r.stats.flaky, failed: r.stats.unexpected };
  });
} else failed++;

if (flaky > 0) console.log(`\n${flaky} of those that passed did so only when they ran again; they are named above.`);
console.log(`\n${passed} passed, ${failed} failed`);
process.exitCode = failed === 0 && passed > 0 ? 0 : 1;

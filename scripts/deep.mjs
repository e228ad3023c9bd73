// npm run deep [-- a file or name]: properties with twenty times the cases, from a seed that is printed; random plans as much further.
// The same again: GEPHYRA_SEED=N npm run deep.
import { randomInt } from 'node:crypto';
import { join } from 'node:path';
import { fetchSampleModels, installPackages, root, run } from './setup.mjs';

installPackages();
fetchSampleModels();
process.env.GEPHYRA_DEEP ??= '20';
process.env.GEPHYRA_SEED ??= String(randomInt(2 ** 31));
console.log(`GEPHYRA_SEED=${process.env.GEPHYRA_SEED}`);
run(join(root, 'node_modules/.bin/vitest'), ['run', ...process.argv.slice(2)]);

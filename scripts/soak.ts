// npm run soak -- [rounds] [seed]: kills a server that is at work again and again, and looks each time whether everything it
// acknowledged is there. Exit code 1 when something was lost.
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import process from 'node:process';
import { killLoop } from '../apps/server/testing/kill-loop.ts';

const [rounds = '50', seed = '1'] = process.argv.slice(2);
const data = await mkdtemp(join(tmpdir(), 'gephyra-soak-'));
let n = 0;
const done = await killLoop(data, Number(rounds), Number(seed), ({ acknowledged, uploads, faults }) => {
  n++;
  console.log(`round ${n}: ${acknowledged} saves and ${uploads} uploads acknowledged, ${faults.length} faults`);
  for (const fault of faults) console.log(`    ${fault}`);
});
const faults = done.reduce((sum, r) => sum + r.faults.length, 0);
const saves = done.reduce((sum, r) => sum + r.acknowledged, 0);
console.log(`${done.length} rounds, ${saves} saves acknowledged, ${faults} faults`);
await rm(data, { recursive: true, force: true });
process.exit(faults > 0 ? 1 : 0);

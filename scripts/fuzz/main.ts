// npm run fuzz -- [readers|zips|archives|plans|http …] [--count N] [--minutes M] [--seed S]
//
// Throws what is damaged, random or hostile at the parts that take something from outside. Each must do it or refuse it in
// words; nothing may crash, hang, or come out wrong. The same seed gives the same cases. Exit code 1 when something failed.
import process from 'node:process';
import { parseArgs } from 'node:util';
import { random } from '../../packages/core/testing/defects.ts';
import type { Fuzz } from './fuzz.ts';

const KINDS: Record<string, () => Promise<Fuzz>> = {
  readers: async () => (await import('./readers.ts')).readers(),
  zips: async () => (await import('./readers.ts')).zips(),
  archives: async () => (await import('./archives.ts')).archives(),
  plans: async () => (await import('./plans.ts')).plans(),
  http: async () => (await import('./http.ts')).http(),
};

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    count: { type: 'string' },
    minutes: { type: 'string' },
    seed: { type: 'string', default: '20261125' },
  },
});
const kinds = positionals.length > 0 ? positionals : Object.keys(KINDS);
const unknown = kinds.find((k) => !KINDS[k]);
if (unknown) {
  console.error(`There is no “${unknown}” to fuzz: ${Object.keys(KINDS).join(', ')}.`);
  process.exit(1);
}

let failures = 0;
for (const kind of kinds) {
  const fuzz = await KINDS[kind]();
  const count = Number(values.count ?? (values.minutes ? Infinity : fuzz.usual));
  const end = performance.now() + Number(values.minutes ?? Infinity) * 60_000;
  const outcomes = new Map<string, number>();
  const start = performance.now();
  let slowest = 0;
  let done = 0;
  let failed = 0;
  for (; done < count && performance.now() < end; done++) {
    // each case has a seed of its own, so that it can be done again by itself
    const next = random(Number(values.seed) + done * 7919);
    const begun = performance.now();
    const { outcome, fault } = await fuzz.run(next);
    const took = performance.now() - begun;
    slowest = Math.max(slowest, took);
    outcomes.set(outcome, (outcomes.get(outcome) ?? 0) + 1);
    const wrong = fault ?? (took > fuzz.longest ? `took ${took.toFixed(0)} ms` : null);
    if (wrong === null) continue;
    failed++;
    console.log(`${kind}, case ${done} (--seed ${Number(values.seed) + done * 7919} --count 1): ${wrong}`);
  }
  await fuzz.close?.();
  for (const [outcome, n] of [...outcomes].sort((a, b) => b[1] - a[1])) {
    console.log(`${String(n).padStart(8)}  ${outcome}`);
  }
  const seconds = ((performance.now() - start) / 1000).toFixed(0);
  console.log(`${kind}: ${done} cases in ${seconds} s, slowest ${slowest.toFixed(0)} ms, ${failed} failures`);
  failures += failed;
}
process.exit(failures > 0 ? 1 : 0);

import { rm } from 'node:fs/promises';
import { expect, it } from 'vitest';
import { freshData } from '../testing/fresh-data.ts';
import { killLoop } from '../testing/kill-loop.ts';

it('a server that is killed again and again keeps all that it has acknowledged, with two tabs, uploads and aborts', async () => {
  const data = await freshData();
  const rounds = await killLoop(data, 3, 20261125);
  expect(rounds.flatMap((r) => r.faults)).toEqual([]);
  expect(rounds.reduce((n, r) => n + r.acknowledged, 0)).toBeGreaterThan(5);
  await rm(data, { recursive: true, force: true });
}, 300_000);

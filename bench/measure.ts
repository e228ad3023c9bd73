/** How long a function is repeated within its turn, ms: quick ones give more samples than slow ones. */
const TURN = 500;

/** Runs functions in turn, round by round after one that does not count, and gives each the median of its times in ms. */
export function interleaved(rounds: number, runs: Readonly<Record<string, () => void>>): Record<string, number> {
  const times: Record<string, number[]> = Object.fromEntries(Object.keys(runs).map((name) => [name, []]));
  for (let round = -1; round < rounds; round++) {
    for (const [name, run] of Object.entries(runs)) {
      const until = performance.now() + TURN;
      do {
        const start = performance.now();
        run();
        if (round >= 0) times[name].push(performance.now() - start);
      } while (performance.now() < until);
    }
  }
  return Object.fromEntries(Object.entries(times).map(([name, list]) => [name, median(list)]));
}

export function median(list: readonly number[]): number {
  const sorted = [...list].sort((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)];
}

/** Exponent of growth: the slope of log(time) over log(size) by least squares. */
export function growth(points: readonly { readonly size: number; readonly time: number }[]): number {
  const xs = points.map((p) => Math.log(p.size));
  const ys = points.map((p) => Math.log(p.time));
  const mean = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0) / list.length;
  const [mx, my] = [mean(xs), mean(ys)];
  const top = xs.reduce((sum, x, i) => sum + (x - mx) * (ys[i] - my), 0);
  return top / xs.reduce((sum, x) => sum + (x - mx) ** 2, 0);
}

export interface Row {
  readonly what: string;
  readonly measured: string;
  readonly wanted: string;
  readonly ok: boolean;
}

/** Prints rows as a table; the mark at the end says whether the wanted figure was reached. */
export function table(title: string, rows: readonly Row[]): void {
  console.log(`\n${title}`);
  const width = Math.max(...rows.map((r) => r.what.length));
  const second = Math.max(...rows.map((r) => r.measured.length));
  for (const r of rows) {
    console.log(`  ${r.what.padEnd(width)}  ${r.measured.padEnd(second)}  wanted ${r.wanted}  ${r.ok ? 'yes' : 'NO'}`);
  }
}

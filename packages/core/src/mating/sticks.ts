import { stickLength } from '../joints/index.ts';
import type { LoosePart } from './loose.ts';

/** What a saw takes, mm. */
const KERF = 2;

/** Sticks of one stock to buy, and what is cut from each. Lengths in mm. */
export interface Sticks {
  /** as its parts are called: "bought dowel 8" */
  readonly what: string;
  /** how long such a stick is sold */
  readonly length: number;
  /** from each stick, the longest first */
  readonly cuts: readonly (readonly number[])[];
  /** parts that are longer than a stick, and have to be bought so long */
  readonly over: readonly number[];
}

/**
 * Shares the lengths to cut out among sticks, each length with the saw's cut: the longest first, each from the first stick that still has it (first fit
 * decreasing: at most 11/9 of the fewest sticks and less than one more; Johnson, Near-optimal bin packing algorithms, 1973).
 * Printed rods are not bought, and what is sold by the length needs no sharing.
 */
export function sticksFor(loose: readonly Pick<LoosePart, 'what' | 'length' | 'count' | 'stock'>[]): Sticks[] {
  const wanted = new Map<string, { stick: number; lengths: number[] }>();
  for (const { what, length, count, stock } of loose) {
    const stick = stock === null || stock === 'printed' ? Infinity : stickLength(stock);
    if (length === null || stick === Infinity) continue;
    const own = wanted.get(what) ?? { stick, lengths: [] };
    own.lengths.push(...Array.from({ length: count }, () => length));
    wanted.set(what, own);
  }
  return [...wanted].map(([what, { stick, lengths }]) => {
    const cuts: number[][] = [];
    const left: number[] = [];
    for (const length of lengths.filter((x) => x <= stick).sort((a, b) => b - a)) {
      // the last cut of a stick may be its end
      const at = left.findIndex((x) => x >= length);
      if (at < 0) {
        cuts.push([length]);
        left.push(stick - length - KERF);
      } else {
        cuts[at].push(length);
        left[at] -= length + KERF;
      }
    }
    return { what, length: stick, cuts, over: lengths.filter((x) => x > stick).sort((a, b) => b - a) };
  });
}

/** What is cut from the sticks, in words: "8 × 36 mm from each", "8 × 36 mm from each of 2; 3 × 36 and 1 × 20 mm from one". */
export function cutsWords({ cuts }: Pick<Sticks, 'cuts'>): string {
  const mm = (x: number): string => `${Number(x.toFixed(1))}`;
  const alike = new Map<string, number>();
  for (const lengths of cuts) {
    const counts = new Map<string, number>();
    for (const x of lengths) counts.set(mm(x), (counts.get(mm(x)) ?? 0) + 1);
    const said = `${[...counts].map(([x, n]) => `${n} × ${x}`).join(' and ')} mm`;
    alike.set(said, (alike.get(said) ?? 0) + 1);
  }
  if (alike.size === 1) return `${[...alike.keys()][0]} from ${cuts.length === 1 ? 'it' : 'each'}`;
  return [...alike].map(([said, n]) => `${said} from ${n === 1 ? 'one' : `each of ${n}`}`).join('; ');
}

/** What is to be bought, in words: "2 sticks of 300 mm". */
export function sticksWords({ cuts, over, length }: Omit<Sticks, 'what'>): string {
  const parts = [
    ...(cuts.length > 0 ? [`${cuts.length} ${cuts.length === 1 ? 'stick' : 'sticks'} of ${length} mm`] : []),
    ...over.map((x) => `one of ${x.toFixed(0)} mm`),
  ];
  return parts.join(' and ');
}

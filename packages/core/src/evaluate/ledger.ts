// The ledger of codes: which piece carries which, through all that is done to the plan.
import { closedMesh, type Solid } from '../cut/index.ts';
import type { CodeEntry, PieceNote, Plan } from '../document/index.ts';
import {
  type Affine,
  type Box,
  boxOf,
  buildBlocks,
  determinant,
  insideSolid,
  inverse,
  mapPoint,
  type Vec3,
} from '../mesh/index.ts';
import { letters } from './names.ts';

/** A piece that needs a code: pieces come body by body, and in each body in the order in which new numbers are given. */
export interface Uncoded {
  readonly key: string;
  readonly body: string;
  readonly solid: Solid;
  /** what it would be called by its place */
  readonly place: string;
}

/** The code that a line of the ledger stands for: "A12", or "A12b" for a part of what was A12. */
export const codeText = ({ letters: head, n, part = '' }: Pick<CodeEntry, 'letters' | 'n' | 'part'>): string =>
  `${head}${n}${part}`;

/** Pieces of a body are listed by their numbers, parts of one by their letters. */
export const codeOrder = (a: CodeEntry, b: CodeEntry): number =>
  a.n - b.n || (a.part ?? '').length - (b.part ?? '').length || ((a.part ?? '') < (b.part ?? '') ? -1 : 1);

/**
 * Gives every piece its line: the one it has; else that of a piece which is gone and of whose inside it holds most; else a new
 * one with the first number that is free. `rest` are lines of pieces that are gone and whose codes something outside still
 * carries: they are kept, and not given again.
 *
 *     ┌────┬────┐        ┌──┬─┬────┐
 *     │ A1 │ A2 │   ──►  │A1│A3 A2 │     the larger part of what was A1 keeps its code
 *     └────┴────┘        └──┴─┴────┘
 */
export function coded(
  plan: Pick<Plan, 'codes' | 'log' | 'bodies'>,
  map: Affine,
  pieces: readonly Uncoded[],
): { readonly lines: readonly CodeEntry[]; readonly rest: readonly CodeEntry[] } {
  const own = new Map(plan.codes.map((c) => [c.key, c]));
  const there = new Set(pieces.map((p) => p.key));
  const printed = new Set((plan.log ?? []).flatMap((e) => e.pieces.map((p) => p.piece)));
  const isFixed = (c: CodeEntry): boolean =>
    c.out === true || printed.has(c.key) || (c.was?.some((k) => printed.has(k)) ?? false);
  // a body that was whole is no piece yet: its parts are numbered as they lie
  const codes = plan.codes.filter((c) => there.has(c.key) || c.key !== bodyOf(c.key) || isFixed(c));
  const gone = codes.filter((c) => !there.has(c.key));
  const fresh = pieces.filter((p) => !own.has(p.key));
  const again = heirs(gone, fresh, map, isFixed);
  const heads = headsOf(plan, pieces);
  const taken = new Set(again.values());
  const rest = gone.filter((c) => !taken.has(c) && isFixed(c));
  // what was seen a moment ago does not turn up elsewhere
  const used = new Set(codes.map((c) => `${c.letters}${c.n}`));
  const names = new Map<string, Set<string>>();
  const nameIn = (body: string): Set<string> => {
    const set = names.get(body) ?? new Set<string>();
    names.set(body, set);
    return set;
  };
  const back = inverse(map);
  const volumes = new Map(
    pieces.map((p) => [p.key, Number((insideOf(p.solid).volume * Math.abs(determinant(back))).toPrecision(4))]),
  );
  /** The name that a piece keeps: unless it has become another thing altogether. */
  const nameKept = (c: CodeEntry): boolean =>
    isFixed(c) || Math.abs(volumes.get(c.key)! - c.volume) <= SAME_PIECE * c.volume;
  for (const c of own.values()) if (there.has(c.key) && nameKept(c)) nameIn(bodyOf(c.key)).add(c.name);
  const lines = pieces.map((p): CodeEntry => {
    const within = insideOf(p.solid).points.map((at) => rounded(mapPoint(back, at)));
    const volume = volumes.get(p.key)!;
    const known = own.get(p.key);
    if (known && nameKept(known)) return { ...known, within, volume };
    const name = unlike(p.place, nameIn(p.body));
    if (known) return { ...known, name, within, volume };
    const before = again.get(p.key);
    if (before) {
      const was = [before.key, ...(before.was ?? [])].filter((k) => k !== p.key).slice(0, MOST_FORMER);
      return { ...before, key: p.key, name, within, volume, was };
    }
    const head = heads.get(p.body)!;
    let n = 1;
    while (used.has(`${head}${n}`)) n++;
    used.add(`${head}${n}`);
    return { key: p.key, letters: head, n, name, within, volume };
  });
  return { lines, rest };
}

/** Notes on pieces under the keys that these have now; one whose piece has another key since goes with it. */
export function notesByKeys(notes: readonly PieceNote[], codes: readonly CodeEntry[]): PieceNote[] {
  const known = new Set(notes.map((n) => n.key));
  const carried = codes.flatMap(({ key, was }): PieceNote[] => {
    const note = known.has(key) ? undefined : was?.map((k) => notes.find((n) => n.key === k)).find(Boolean);
    return note ? [{ ...note, key }] : [];
  });
  return [...notes, ...carried];
}

/** The ledger once files were written: codes of the pieces in them, as they were then, are never another's. */
export function codesWritten(codes: readonly CodeEntry[], written: readonly CodeEntry[]): CodeEntry[] {
  const out = new Set(written.map(codeText));
  const there = new Set(codes.map(codeText));
  return [
    ...codes.map((c) => (out.has(codeText(c)) ? { ...c, out: true } : c)),
    ...written.filter((c) => !there.has(codeText(c))).map((c) => ({ ...c, out: true })),
  ];
}

/** By this share of its volume a piece may change and keep its name. */
const SAME_PIECE = 0.25;

/** Former keys that are remembered of a piece. */
const MOST_FORMER = 12;

const bodyOf = (key: string): string => key.replace(/[/#].*$/, '');

/** Which of the fresh pieces carry on the lines of pieces that are gone: the pair with most volume in common first. */
function heirs(
  gone: readonly CodeEntry[],
  fresh: readonly Uncoded[],
  map: Affine,
  isFixed: (c: CodeEntry) => boolean,
): Map<string, CodeEntry> {
  const out = new Map<string, CodeEntry>();
  if (gone.length === 0 || fresh.length === 0) return out;
  const bodies = new Set(fresh.map((p) => p.body));
  const homes = fresh.map((p) => ({
    p,
    box: boxOf(p.solid.positions),
    blocks: null as ReturnType<typeof buildBlocks> | null,
  }));
  const pairs: { readonly c: CodeEntry; readonly p: Uncoded; readonly share: number }[] = [];
  for (const c of gone) {
    const points = c.within.map((at) => mapPoint(map, at));
    for (const home of homes) {
      // alternates sit in one place: only what a body has become is looked for in others
      if (home.p.body !== bodyOf(c.key) && bodies.has(bodyOf(c.key))) continue;
      const near = points.filter((at) => inBox(home.box, at));
      if (near.length === 0) continue;
      home.blocks ??= buildBlocks(closedMesh(home.p.solid, () => 0));
      const held = near.filter((at) => insideSolid(home.blocks!, at)).length / points.length;
      const share = held * c.volume;
      // a code that something carries goes to no piece that is mostly something else
      const own = insideOf(home.p.solid).volume / Math.abs(determinant(map));
      if (held > 0 && (!isFixed(c) || share >= own / 2)) pairs.push({ c, p: home.p, share });
    }
  }
  // of equal parts the first one
  const place = new Map(fresh.map((p, i) => [p, i]));
  pairs.sort((a, b) => b.share - a.share || place.get(a.p)! - place.get(b.p)!);
  const given = new Set<CodeEntry>();
  for (const { c, p } of pairs) {
    if (out.has(p.key) || given.has(c)) continue;
    out.set(p.key, c);
    given.add(c);
  }
  return out;
}

const inBox = (box: Box, at: Vec3): boolean => at.every((x, a) => x >= box.min[a] && x <= box.max[a]);

/**
 * What the ledger has the codes of each body begin with: what its pieces have, else the first letters that no other body has.
 * Letters that the maker gives a body are put in their place where a code is shown, so that its numbers go on.
 */
function headsOf(plan: Pick<Plan, 'codes' | 'bodies'>, pieces: readonly Uncoded[]): Map<string, string> {
  const out = new Map<string, string>();
  const order = [...new Set(pieces.map((p) => p.body))];
  for (const body of order) {
    const known = plan.codes.find((c) => bodyOf(c.key) === body)?.letters;
    if (known) out.set(body, known);
  }
  const said = plan.bodies.flatMap((b) => b.code ?? []);
  const used = new Set([...said, ...plan.codes.map((c) => c.letters)]);
  order.forEach((body, i) => {
    if (out.has(body)) return;
    let k = i;
    while (used.has(letters(k))) k++;
    out.set(body, letters(k));
    used.add(letters(k));
  });
  return out;
}

/** A name with a number behind it, where others have it already; it is one of them from then on. */
function unlike(name: string, others: Set<string>): string {
  let own = name;
  for (let k = 2; others.has(own); k++) own = `${name} ${k}`;
  others.add(own);
  return own;
}

/** Points inside that tell a piece again. */
const SAMPLES = 12;
/** Columns of rays across a piece, both ways; more of them when these miss it. */
const COLUMNS = [5, 17, 61];

/** What a piece is inside: points spread evenly, one for every twelfth of its volume, and about how much that is, mm³. */
interface Inside {
  readonly points: readonly Vec3[];
  readonly volume: number;
}

const sampled = new WeakMap<Solid, Inside>();

/** The inside of a solid; always the same of the same solid. */
export function insideOf(solid: Solid): Inside {
  const known = sampled.get(solid);
  if (known) return known;
  const { min, max } = boxOf(solid.positions);
  let inside: Inside = { points: [], volume: 0 };
  for (const n of COLUMNS) {
    const runs = runsUp(solid, n);
    if (runs.length === 0) continue;
    const cell = ((max[0] - min[0]) / n) * ((max[1] - min[1]) / n);
    inside = { points: spread(runs), volume: runs.reduce((sum, r) => sum + r.to - r.from, 0) * cell };
    break;
  }
  sampled.set(solid, inside);
  return inside;
}

/** A stretch of a vertical line that lies inside. */
interface Run {
  readonly x: number;
  readonly y: number;
  readonly from: number;
  readonly to: number;
}

/** Where n × n vertical lines run inside a solid. Lines lie askew, so that they meet no edges of upright walls. */
function runsUp(solid: Solid, n: number): Run[] {
  const { min, max } = boxOf(solid.positions);
  const [dx, dy] = [(max[0] - min[0]) / n, (max[1] - min[1]) / n];
  const xs = Array.from({ length: n }, (_, i) => min[0] + dx * (i + 0.4871 + 0.02 * Math.sin(i + 1)));
  const ys = Array.from({ length: n }, (_, i) => min[1] + dy * (i + 0.5137 + 0.02 * Math.cos(i + 2)));
  const hits: number[][] = Array.from({ length: n * n }, () => []);
  const p = solid.positions;
  const cross = (t: ArrayLike<number>): void => {
    for (let k = 0; k < t.length; k += 3) {
      const [a, b, c] = [t[k] * 3, t[k + 1] * 3, t[k + 2] * 3];
      const [x0, x1] = [Math.min(p[a], p[b], p[c]), Math.max(p[a], p[b], p[c])];
      const [y0, y1] = [Math.min(p[a + 1], p[b + 1], p[c + 1]), Math.max(p[a + 1], p[b + 1], p[c + 1])];
      // line i stands within the i-th of n strips
      const i1 = Math.min(n - 1, Math.floor((x1 - min[0]) / dx));
      const j1 = Math.min(n - 1, Math.floor((y1 - min[1]) / dy));
      for (let i = Math.max(0, Math.floor((x0 - min[0]) / dx)); i <= i1; i++) {
        if (xs[i] < x0 || xs[i] > x1) continue;
        for (let j = Math.max(0, Math.floor((y0 - min[1]) / dy)); j <= j1; j++) {
          if (ys[j] < y0 || ys[j] > y1) continue;
          const z = heightAt(p, a, b, c, xs[i], ys[j]);
          if (z !== null) hits[i * n + j].push(z);
        }
      }
    }
  };
  cross(solid.triangles);
  for (const cap of solid.caps) cross(cap.triangles);
  return hits.flatMap((zs, at) => {
    zs.sort((u, v) => u - v);
    const runs: Run[] = [];
    const [x, y] = [xs[Math.floor(at / n)], ys[at % n]];
    for (let k = 0; k + 1 < zs.length; k += 2) if (zs[k + 1] > zs[k]) runs.push({ x, y, from: zs[k], to: zs[k + 1] });
    return zs.length % 2 === 0 ? runs : [];
  });
}

/** The height at which a triangle lies over a place; null beside it. */
function heightAt(p: Float64Array, a: number, b: number, c: number, x: number, y: number): number | null {
  const side = (u: number, v: number): number => (p[v] - p[u]) * (y - p[u + 1]) - (p[v + 1] - p[u + 1]) * (x - p[u]);
  const [wc, wa, wb] = [side(a, b), side(b, c), side(c, a)];
  const inside = (wa > 0 && wb > 0 && wc > 0) || (wa < 0 && wb < 0 && wc < 0);
  if (!inside) return null;
  return (wa * p[a + 2] + wb * p[b + 2] + wc * p[c + 2]) / (wa + wb + wc);
}

function spread(runs: readonly Run[]): Vec3[] {
  const total = runs.reduce((sum, r) => sum + r.to - r.from, 0);
  const out: Vec3[] = [];
  let passed = 0;
  for (const { x, y, from, to } of runs) {
    for (;;) {
      const next = ((out.length + 0.5) / SAMPLES) * total;
      if (out.length >= SAMPLES || next > passed + to - from) break;
      out.push([x, y, from + next - passed]);
    }
    passed += to - from;
  }
  return out;
}

/** To six digits: what a ledger holds need be no finer. */
const rounded = (at: Vec3): [number, number, number] => [
  Number(at[0].toPrecision(6)),
  Number(at[1].toPrecision(6)),
  Number(at[2].toPrecision(6)),
];

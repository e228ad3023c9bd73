import { type IndexedMesh, vecOf } from '../src/mesh/index.ts';

import { seeded as random } from '../src/seeded.ts';

export { random };

interface Lists {
  positions: number[];
  triangles: number[];
}

/** Damages a list of triangles in place. `size` is the diagonal of the model, `next` gives random numbers. */
type Damage = (m: Lists, size: number, next: () => number) => void;

const count = (m: Lists): number => m.triangles.length / 3;
const pick = (m: Lists, next: () => number): number => Math.floor(next() * count(m));
const cornersOf = (m: Lists, i: number): number[] => m.triangles.slice(i * 3, i * 3 + 3);
const at = (m: Lists, v: number): number[] => m.positions.slice(v * 3, v * 3 + 3);
const add = (m: Lists, p: readonly number[]): number => m.positions.push(...p) / 3 - 1;
const mid = (...list: readonly (readonly number[])[]) => vecOf((k) => list.reduce((s, p) => s + p[k], 0) / list.length);

/** The triangles round a triangle: those that share a vertex with what is there already. */
function patchAt(m: Lists, start: number, wanted: number): Set<number> {
  const found = new Set([start]);
  while (found.size < wanted) {
    const vertices = new Set([...found].flatMap((i) => cornersOf(m, i)));
    const before = found.size;
    for (let i = 0; i < count(m) && found.size < wanted; i++)
      if (cornersOf(m, i).some((v) => vertices.has(v))) found.add(i);
    if (found.size === before) break;
  }
  return found;
}

const remove = (m: Lists, gone: ReadonlySet<number>): void => {
  m.triangles = m.triangles.filter((_, h) => !gone.has(Math.floor(h / 3)));
};

const turn = (m: Lists, i: number): void => {
  const [a, b, c] = cornersOf(m, i);
  m.triangles.splice(i * 3, 3, a, c, b);
};

/** What can be done to a closed model. Each leaves its shape as it was, but for small holes and small scraps. */
export const DAMAGES: Record<string, Damage> = {
  'missing triangles': (m, _s, next) => {
    for (let k = 0; k < 4; k++) remove(m, new Set([pick(m, next)]));
  },
  'a wide hole': (m, _s, next) => remove(m, patchAt(m, pick(m, next), Math.max(6, Math.floor(count(m) * 0.004)))),
  'a hole with an island': (m, _s, next) => {
    const start = pick(m, next);
    const wide = patchAt(m, start, 7);
    wide.delete(start);
    remove(m, wide);
  },
  'turned triangles': (m, _s, next) => {
    for (let k = 0; k < 12; k++) turn(m, pick(m, next));
  },
  'everything inside out': (m) => {
    for (let i = 0; i < count(m); i++) turn(m, i);
  },
  'repeated triangles': (m, _s, next) => {
    for (let k = 0; k < 8; k++) m.triangles.push(...cornersOf(m, pick(m, next)));
  },
  'back-to-back triangles': (m, _s, next) => {
    for (let k = 0; k < 5; k++) {
      const [a, b] = cornersOf(m, pick(m, next));
      const c = add(
        m,
        mid(at(m, a), at(m, b)).map((x) => x + (next() - 0.5) * 2),
      );
      m.triangles.push(a, b, c, a, c, b);
    }
  },
  'triangles without area': (m, _s, next) => {
    for (let k = 0; k < 6; k++) {
      const [a, b] = cornersOf(m, pick(m, next));
      m.triangles.push(a, b, b, a, a, b);
    }
  },
  'cracks: corners come apart a little': (m, size, next) => {
    for (let k = 0; k < 30; k++) {
      const h = Math.floor(next() * m.triangles.length);
      m.triangles[h] = add(
        m,
        at(m, m.triangles[h]).map((x) => x + (next() - 0.5) * size * 5e-5),
      );
    }
  },
  'nothing welded, everything shaken': (m, size, next) => {
    m.triangles = m.triangles.map((v) =>
      add(
        m,
        at(m, v).map((x) => x + (next() - 0.5) * size * 2e-5),
      ),
    );
  },
  'edges split on one side only': (m, _s, next) => {
    for (let k = 0; k < 6; k++) {
      const i = pick(m, next);
      const [a, b, c] = cornersOf(m, i);
      const v = add(m, mid(at(m, a), at(m, b)));
      m.triangles.splice(i * 3, 3, a, v, c);
      m.triangles.push(v, b, c);
    }
  },
  'a fin on an edge': (m, size, next) => {
    for (let k = 0; k < 3; k++) {
      const [a, b, c] = cornersOf(m, pick(m, next));
      const middle = mid(at(m, a), at(m, b), at(m, c));
      m.triangles.push(
        a,
        b,
        add(
          m,
          middle.map((x) => x * 1.02 + (next() - 0.5) * size * 0.01),
        ),
      );
    }
  },
  'a wall inside': (m, _s, next) => {
    // a sheet from one edge to another, through the inside
    const [a, b] = cornersOf(m, pick(m, next));
    const [c, d] = cornersOf(m, pick(m, next));
    if (new Set([a, b, c, d]).size === 4) m.triangles.push(a, b, c, b, d, c);
  },
  dust: (m, size, next) => {
    for (let k = 0; k < 5; k++) {
      const o = vecOf(() => (next() - 0.5) * size);
      const v = [0, 1, 2, 3].map(() =>
        add(
          m,
          o.map((x) => x + next() * size * 0.002),
        ),
      );
      m.triangles.push(v[0], v[1], v[2], ...(k % 2 ? [v[0], v[2], v[3]] : []));
    }
  },
  needles: (m, size, next) => {
    for (let k = 0; k < 6; k++) {
      const i = pick(m, next);
      const [a, b, c] = cornersOf(m, i);
      const v = add(
        m,
        at(m, a).map((x, n) => x + (at(m, b)[n] - x) * 1e-7 + (next() - 0.5) * size * 1e-9),
      );
      m.triangles.splice(i * 3, 3, v, b, c);
      m.triangles.push(a, v, c);
    }
  },
  'surfaces that touch in a vertex': (m, size, next) => {
    const v = m.triangles[Math.floor(next() * m.triangles.length)];
    const o = at(m, v);
    const l = Math.hypot(...o) || 1;
    const tip = vecOf((k) =>
      add(
        m,
        o.map((x, n) => x + (o[n] / l) * size * 0.003 + (n === k ? size * 0.002 : 0)),
      ),
    );
    m.triangles.push(v, tip[0], tip[1], v, tip[1], tip[2], v, tip[2], tip[0], tip[0], tip[2], tip[1]);
  },
};

/** A copy of a closed model with one of the damages, or some of them, done to it. */
export function damaged(mesh: IndexedMesh, kinds: readonly string[], seed: number): IndexedMesh {
  const next = random(seed);
  const lists: Lists = { positions: [...mesh.positions], triangles: [...mesh.triangles] };
  let size = 0;
  for (let a = 0; a < 3; a++) {
    const own = lists.positions.filter((_, k) => k % 3 === a);
    size = Math.hypot(size, Math.max(...own) - Math.min(...own));
  }
  for (const kind of kinds) DAMAGES[kind](lists, size, next);
  return {
    positions: Float64Array.from(lists.positions),
    triangles: Uint32Array.from(lists.triangles),
    tags: new Uint32Array(lists.triangles.length / 3),
  };
}

import { find, unite } from '../mesh/index.ts';
import type { Cell } from './cell.ts';
import type { Frame } from './frame.ts';

/** Where a seam really cuts, so that no vertex lies on its plane. */
export interface EffectivePlane {
  /** normal · x */
  readonly offset: number;
  /** Parts of the surface flush with the plane want opposite sides: a film or a crumb of one of them will stay. */
  readonly film: boolean;
}

/** How near to a plane a vertex counts as on it: the larger of 1e-7 of the size and 2^-22 of the largest coordinate, mm. */
export const windowOf = (size: number, reach: number): number => Math.max(size * 1e-7, reach * 2 ** -22);

/**
 * Moves a plane within a tiny window into the widest gap between the vertices near it.
 *
 * What touches the plane decides the
 * side: a flush face that looks along the normal (solid below it), or an edge or corner from which the surface only goes
 * down, is left below the plane; their counterparts above. So no film stays on the wrong side, unless both kinds lie at
 * the same height.
 */
export function effectivePlane(frame: Frame, cells: readonly Cell[], window: number): EffectivePlane {
  const near: number[] = [];
  const contacts: Contact[] = [];
  for (const cell of cells) {
    const flags = nearVertices(cell.positions, frame, window, near);
    if (flags) contacts.push(...contactsOf(cell, frame, flags));
  }
  if (near.length === 0) return { offset: frame.offset, film: false };
  let floor = -window;
  let ceiling = window;
  let wantBelow = 0;
  let wantAbove = 0;
  for (const c of contacts) {
    if (c.along > 0 || (c.fromBelow && !c.fromAbove)) {
      floor = Math.max(floor, c.high);
      wantBelow += c.along + Number.MIN_VALUE;
    }
    if (c.against > 0 || (c.fromAbove && !c.fromBelow)) {
      ceiling = Math.min(ceiling, c.low);
      wantAbove += c.against + Number.MIN_VALUE;
    }
  }
  const film = floor >= ceiling;
  if (film) {
    if (wantBelow >= wantAbove) ceiling = window;
    else floor = -window;
  }
  near.push(-window, window);
  near.sort((a, b) => a - b);
  let best = -1;
  let shift = 0;
  for (let i = 1; i < near.length; i++) {
    const lo = near[i - 1];
    const hi = near[i];
    if (lo < floor || hi > ceiling) continue;
    const middle = (lo + hi) / 2;
    const gap = hi - lo;
    if (gap > best * 1.0001 || (gap > best * 0.9999 && Math.abs(middle) < Math.abs(shift))) {
      best = gap;
      shift = middle;
    }
  }
  return { offset: frame.offset + shift, film };
}

/** A connected part of the surface that touches the plane. */
interface Contact {
  low: number;
  high: number;
  /** area of its flush faces that look along the normal, and against it, mm² */
  along: number;
  against: number;
  /** whether the surface goes on from it above the plane, and below */
  fromAbove: boolean;
  fromBelow: boolean;
}

/** Adds the distances of near vertices to `near`; flags them, or null when there are none. */
function nearVertices(p: Float64Array, frame: Frame, window: number, near: number[]): Uint8Array | null {
  const [nx, ny, nz] = frame.normal;
  const off = frame.offset;
  let flags: Uint8Array | null = null;
  for (let k = 0; k < p.length; k += 3) {
    const d = nx * p[k] + ny * p[k + 1] + nz * p[k + 2] - off;
    if (d > window || d < -window) continue;
    flags ??= new Uint8Array(p.length / 3);
    flags[k / 3] = 1;
    near.push(d);
  }
  return flags;
}

function contactsOf({ positions: p, triangles: t }: Cell, frame: Frame, flags: Uint8Array): Iterable<Contact> {
  const [nx, ny, nz] = frame.normal;
  const d = (v: number): number => nx * p[v * 3] + ny * p[v * 3 + 1] + nz * p[v * 3 + 2] - frame.offset;
  const parent = new Uint32Array(flags.length);
  for (let v = 0; v < parent.length; v++) parent[v] = v;
  const touching: number[] = [];
  for (let i = 0; i < t.length; i += 3) {
    if (flags[t[i]] + flags[t[i + 1]] + flags[t[i + 2]] === 0) continue;
    touching.push(i);
    const on = [t[i], t[i + 1], t[i + 2]].filter((v) => flags[v]);
    for (const v of on) unite(parent, on[0], v);
  }
  const contacts = new Map<number, Contact>();
  for (const i of touching) {
    const corners = [t[i], t[i + 1], t[i + 2]];
    const on = corners.filter((v) => flags[v]);
    const root = find(parent, on[0]);
    const c = contacts.get(root) ?? {
      low: Infinity,
      high: -Infinity,
      along: 0,
      against: 0,
      fromAbove: false,
      fromBelow: false,
    };
    contacts.set(root, c);
    for (const v of corners) {
      const h = d(v);
      if (flags[v]) {
        c.low = Math.min(c.low, h);
        c.high = Math.max(c.high, h);
      } else if (h > 0) c.fromAbove = true;
      else c.fromBelow = true;
    }
    if (on.length < 3) continue;
    const [a, b, e] = corners.map((v) => v * 3);
    const ux = p[b] - p[a];
    const uy = p[b + 1] - p[a + 1];
    const uz = p[b + 2] - p[a + 2];
    const vx = p[e] - p[a];
    const vy = p[e + 1] - p[a + 1];
    const vz = p[e + 2] - p[a + 2];
    const facing = (nx * (uy * vz - uz * vy) + ny * (uz * vx - ux * vz) + nz * (ux * vy - uy * vx)) / 2;
    if (facing > 0) c.along += facing;
    else c.against -= facing;
  }
  return contacts.values();
}

import type { Profile } from '../../cut/index.ts';
import type { Printer } from '../../document/index.ts';
import { dot, type IndexedMesh, triangleCross, type Vec3 } from '../../mesh/index.ts';
import { farthest } from './fit-range.ts';
import { necks } from './necks.ts';

/** A place that a seam likes to stand at, and why. */
export interface Landmark {
  /** normal · x */
  readonly at: number;
  readonly kind: 'half' | 'third' | 'mirror' | 'neck' | 'face' | 'fit';
  /** for people: "half way", "neck, 14.2 cm²" */
  readonly reason: string;
}

export interface LandmarkSurroundings {
  readonly profile: Profile;
  readonly normal: Vec3;
  readonly meshes: readonly IndexedMesh[];
  readonly printer: Printer;
  /** places of other seams of this direction */
  readonly others: readonly number[];
  /** the model's mirror plane, if it has one */
  readonly mirror: { readonly at: Vec3; readonly normal: Vec3 } | null;
  /** stretches along the direction that are to be kept clear */
  readonly clear: readonly (readonly [number, number])[];
}

/** Most flat faces and necks that are offered. */
const MOST = 8;

/**
 * The places along a direction that are worth stopping at, by place: half and thirds of each stretch between other seams,
 * the mirror plane, necks, flat faces of the model, and where the largest piece that fits the printer ends. None lies in a
 * zone that is kept clear.
 */
export function landmarksAlong(around: LandmarkSurroundings): Landmark[] {
  const { profile, normal, printer, others, clear } = around;
  const stops = [profile.from, ...others.filter((x) => x > profile.from && x < profile.to), profile.to].sort(
    (a, b) => a - b,
  );
  const landmarks: Landmark[] = [];
  for (let i = 1; i < stops.length; i++) {
    const [low, high] = [stops[i - 1], stops[i]];
    if (stops.length <= 4) {
      landmarks.push(
        { at: (low + high) / 2, kind: 'half', reason: 'half way' },
        { at: low + (high - low) / 3, kind: 'third', reason: 'one third' },
        { at: low + ((high - low) * 2) / 3, kind: 'third', reason: 'two thirds' },
      );
    }
    const up = farthest(profile, normal, printer, low, high, 1);
    const down = farthest(profile, normal, printer, high, low, -1);
    if (up !== null && up < high) landmarks.push({ at: up, kind: 'fit', reason: 'largest piece that fits below' });
    if (down !== null && down > low) landmarks.push({ at: down, kind: 'fit', reason: 'largest piece that fits above' });
  }
  if (around.mirror && Math.abs(dot(around.mirror.normal, normal)) > 1 - 1e-4) {
    landmarks.push({ at: dot(around.mirror.at, normal), kind: 'mirror', reason: 'mirror plane' });
  }
  for (const neck of necks(profile).slice(0, MOST)) {
    landmarks.push({ at: neck.at, kind: 'neck', reason: `neck, ${(neck.area / 100).toFixed(1)} cm²` });
  }
  for (const at of flatFaces(around.meshes, normal, 0.02 * Math.max(...profile.area)).slice(0, MOST)) {
    if (at > profile.from + 1e-6 && at < profile.to - 1e-6) landmarks.push({ at, kind: 'face', reason: 'flat face' });
  }
  return landmarks
    .filter((s) => s.at > profile.from && s.at < profile.to && !clear.some(([low, high]) => s.at > low && s.at < high))
    .sort((a, b) => a.at - b.at);
}

/** Heights of faces square to a direction, the largest first. */
function flatFaces(meshes: readonly IndexedMesh[], [nx, ny, nz]: Vec3, least: number): number[] {
  const areas = new Map<number, { at: number; area: number }>();
  for (const { positions: p, triangles: t } of meshes) {
    for (let i = 0; i < t.length / 3; i++) {
      const k = t[i * 3] * 3;
      const c = triangleCross(p, t, i);
      const along = Math.abs(c[0] * nx + c[1] * ny + c[2] * nz);
      if (along < (1 - 1e-7) * Math.hypot(c[0], c[1], c[2]) || along === 0) continue;
      const at = nx * p[k] + ny * p[k + 1] + nz * p[k + 2];
      const key = Math.round(at * 1e3);
      const known = areas.get(key);
      if (known) known.area += along / 2;
      else areas.set(key, { at, area: along / 2 });
    }
  }
  return [...areas.values()]
    .filter((f) => f.area >= least)
    .sort((a, b) => b.area - a.area)
    .map((f) => f.at);
}

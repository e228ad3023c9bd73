import type { PrintSetting } from '../document/index.ts';
import { layDown, type Pose } from './pose.ts';
import type { PrintMesh } from './print-mesh.ts';
import { slicesOf } from './slices.ts';

/** Slices that are looked at, however many layers there are. */
const MOST_SLICES = 400;

/** What a print takes. Hours are those of the machine; cost is in the currency of the material's price. */
export interface Estimate {
  readonly hours: number;
  readonly grams: number;
  readonly cost: number;
  /** of them: what support takes */
  readonly supportHours: number;
  readonly supportGrams: number;
  readonly layers: number;
}

/** What is printed, mm³ and mm. */
interface Amounts {
  readonly height: number;
  /** outer and inner lines; solid layers above and below; what fills the rest, all of it */
  readonly walls: number;
  readonly solid: number;
  readonly inside: number;
}

/**
 * How a posed piece is filled, from at most 400 even slices. Walls take the outline's length times their width, at most the
 * whole slice. Level and sloping faces have solid layers behind them, as far as the walls do not fill the slope: under a
 * face that leans by α from level, T deep for T mm of solid layers, less w tan α where the walls are w wide.
 */
export function amountsOf(mesh: PrintMesh, pose: Pose, setting: PrintSetting): Amounts {
  const { positions: p } = layDown(mesh.positions, pose);
  let height = 0;
  for (let i = 2; i < p.length; i += 3) height = Math.max(height, p[i]);
  const count = Math.max(1, Math.min(MOST_SLICES, Math.ceil(height / setting.layer)));
  const { thickness, outline, area } = slicesOf({ positions: p, triangles: mesh.triangles }, height, count);
  const wide = setting.walls * setting.line;
  /** of each slice: the share that is not wall */
  const inner = new Float64Array(count);
  let [walls, rest] = [0, 0];
  for (let k = 0; k < count; k++) {
    const wall = Math.min(area[k], outline[k] * wide);
    inner[k] = area[k] > 0 ? 1 - wall / area[k] : 0;
    walls += wall * thickness;
    rest += (area[k] - wall) * thickness;
  }
  const solid = Math.min(rest, skinSolid(p, mesh.triangles, inner, thickness, setting, wide));
  return { height, walls, solid, inside: rest - solid };
}

function skinSolid(
  p: Float64Array,
  t: Uint32Array,
  inner: Float64Array,
  thickness: number,
  { top, bottom, layer }: PrintSetting,
  wide: number,
): number {
  let sum = 0;
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [3 * t[i], 3 * t[i + 1], 3 * t[i + 2]];
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
    const nz = ux * vy - uy * vx;
    if (nz === 0) continue;
    const slope = Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz) / Math.abs(nz);
    const deep = (nz > 0 ? top : bottom) * layer - wide * slope;
    if (deep <= 0) continue;
    const at = (p[a + 2] + p[b + 2] + p[c + 2]) / 3 / thickness;
    const slice = Math.min(inner.length - 1, Math.max(0, Math.floor(nz > 0 ? at - 0.5 : at)));
    sum += (Math.abs(nz) / 2) * deep * inner[slice];
  }
  return sum;
}

/**
 * Hours, grams and cost of a posed piece with `support` mm³ of support, on its own, without warming up. `factor` is what the
 * printer's real hours have been of what was estimated.
 */
export function estimateOf(
  mesh: PrintMesh,
  pose: Pose,
  support: number,
  setting: PrintSetting,
  kind: 'filament' | 'resin',
  factor = 1,
): Estimate {
  const amounts = amountsOf(mesh, pose, setting);
  return kind === 'resin'
    ? resinEstimate(mesh.volume, amounts.height, support, setting, factor)
    : filamentEstimate(amounts, support, setting, factor);
}

/** Lines at their speed, none faster than the hot end melts; and what every layer takes beside. */
function filamentEstimate(a: Amounts, support: number, s: PrintSetting, factor = 1): Estimate {
  const bead = s.layer * s.line;
  const seconds = (volume: number, speed: number): number => volume / Math.min(bead * speed, s.flow);
  const layers = Math.ceil(a.height / s.layer - 1e-6);
  const own =
    seconds(a.walls, s.wallSpeed) + seconds(a.solid + a.inside * s.infill, s.fillSpeed) + layers * s.layerSeconds;
  const held = seconds(support, s.fillSpeed);
  return weighed(a.walls + a.solid + a.inside * s.infill, support, [own, held], layers, s, factor);
}

/** Resin takes as long as it is tall, whatever is in it. */
function resinEstimate(volume: number, height: number, support: number, s: PrintSetting, factor: number): Estimate {
  const layers = Math.ceil(height / s.layer - 1e-6);
  const base = Math.min(layers, s.baseLayers);
  const seconds = layers * s.liftSeconds + base * s.baseExposure + (layers - base) * s.exposure;
  return weighed(volume, support, [seconds, 0], layers, s, factor);
}

function weighed(
  volume: number,
  support: number,
  [own, held]: readonly [number, number],
  layers: number,
  { density, price }: PrintSetting,
  factor: number,
): Estimate {
  const supportGrams = (support / 1000) * density;
  const grams = (volume / 1000) * density + supportGrams;
  return {
    hours: ((own + held) / 3600) * factor,
    grams,
    cost: (grams / 1000) * price,
    supportHours: (held / 3600) * factor,
    supportGrams,
    layers,
  };
}

/** A print that was timed. */
export interface LoggedPrint {
  /** ISO date */
  readonly date: string;
  readonly hours: number;
  /** what had been estimated, without any factor */
  readonly estimate: number;
}

const DAY = 24 * 3600 * 1000;

/**
 * What real hours are of estimated ones: the median of the ratios, and how many it rests on; 1 without any. A print counts
 * half for every year that it is older than one.
 */
export function learnedFactor(prints: readonly LoggedPrint[], today: Date): { factor: number; count: number } {
  const ratios = prints
    .filter((p) => p.hours > 0 && p.estimate > 0)
    .map((p) => {
      const years = (today.getTime() - new Date(p.date).getTime()) / (365 * DAY);
      return { ratio: p.hours / p.estimate, weight: 0.5 ** Math.max(0, years - 1) };
    })
    .sort((a, b) => a.ratio - b.ratio);
  const half = ratios.reduce((sum, r) => sum + r.weight, 0) / 2;
  if (half === 0) return { factor: 1, count: 0 };
  let sum = 0;
  for (let i = 0; i < ratios.length; i++) {
    sum += ratios[i].weight;
    // just at the half, the middle lies between two
    if (Math.abs(sum - half) < 1e-9 && i + 1 < ratios.length) {
      return { factor: (ratios[i].ratio + ratios[i + 1].ratio) / 2, count: ratios.length };
    }
    if (sum > half) return { factor: ratios[i].ratio, count: ratios.length };
  }
  return { factor: ratios[ratios.length - 1].ratio, count: ratios.length };
}

/** Hours as they are said: "3 h 12", "48 min". */
export function hoursText(hours: number): string {
  const minutes = Math.round(hours * 60);
  return minutes < 60 ? `${minutes} min` : `${Math.floor(minutes / 60)} h ${String(minutes % 60).padStart(2, '0')}`;
}

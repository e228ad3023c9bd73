import type { Wish } from '../document/index.ts';
import { radians } from '../units.ts';
import { apart, type Candidate, candidatesOf, evenDirections, leaned, type PoseReason } from './candidates.ts';
import { type Figures, measurePose, mostSupport, type PrintRule } from './figures.ts';
import type { Pose } from './pose.ts';
import { lightPrint, type PrintMesh } from './print-mesh.ts';

/** A pose that was looked at: lower scores are better. */
export interface PoseOption {
  readonly pose: Pose;
  readonly why: PoseReason;
  readonly figures: Figures;
  readonly score: number;
}

/** Cells of the raster: while searching, and for what is shown, mm. */
const COARSE = 2;
const FINE = 0.5;
/** Options that are kept, so many of them measured finely, and how far apart they are. */
const KEPT = 6;
const MEASURED = 3;
const APART = radians(12);
/** Directions that are looked over where the usual ones disappoint, and how many of them are measured. */
const MORE = 150;
const PROMISING = 40;

/** How heavy each part of the score is; V is the piece's volume, L its cube root. */
const WEIGHTS = {
  /** columns of support over V */
  support: 1,
  /** overhanging skin over L² */
  skin: 0.25,
  /** what a rest of a fifth of the footprint is short of */
  rest: 0.3,
  /** the middle of its mass is not 2 mm within its rest; beside it; not even within rest and supports */
  unsteady: 0.2,
  leans: 0.2,
  falls: 0.5,
  /** resin: the share of its footprint that lies flat on the plate, where layers stick */
  flat: 0.5,
  /** height over L */
  height: 0.05,
  /** it does not fit the printer */
  large: 10,
  /** marks on show faces over L² */
  show: 1,
};

/** Of poses that are as good, the plainer one: what speaks against a direction by itself. */
const PLAIN: Readonly<Record<PoseReason['kind'], number>> = {
  cap: 0,
  axis: 0.004,
  rest: 0.006,
  tilt: 0.008,
  free: 0.01,
};
const plainness = (why: PoseReason): number =>
  why.kind === 'axis' && why.axis === 2 && why.sign > 0 ? 0 : PLAIN[why.kind];

/** What each wish adds. */
const WISHED: Readonly<Record<Wish, (f: Figures, volume: number) => number>> = {
  support: () => 0,
  fast: (f, v) => 0.5 * (f.height / Math.cbrt(v)) + f.columnVolume / v,
  strong: (f) => 0.8 * f.pegsAcross,
  show: (f, v) => (4 * f.showScars) / v ** (2 / 3),
};

/** A weighted sum: what speaks against a pose. Sizes are held against the piece's own, so it is the same at any scale. */
export function scoreOf(f: Figures, volume: number, wish: Wish, kind: PrintRule['kind'] = 'filament'): number {
  const side = Math.cbrt(Math.max(volume, 1e-9));
  const plane = side * side;
  return (
    WEIGHTS.support * (f.columnVolume / (side * plane)) +
    WEIGHTS.skin * (f.skinOverhang / plane) +
    (kind === 'resin' ? WEIGHTS.flat * (f.restArea / Math.max(f.footprint, 1e-9)) : holdOf(f)) +
    (f.standSupported < 0 ? WEIGHTS.falls : 0) +
    WEIGHTS.height * (f.height / side) +
    (f.fits ? 0 : WEIGHTS.large) +
    WEIGHTS.show * (f.showScars / plane) +
    WISHED[wish](f, side * plane)
  );
}

/** What speaks against how it holds on the bed; resin hangs from its supports, whatever the pose. */
const holdOf = (f: Figures): number =>
  WEIGHTS.rest * Math.max(0, 1 - f.restArea / (0.2 * Math.max(f.footprint, 1e-9))) +
  (f.stand < 2 ? WEIGHTS.unsteady : 0) +
  (f.stand < 0 ? WEIGHTS.leans : 0);

/**
 * The best poses of a piece for a wish, the best first: up to six, more than 12° apart, each turned about z so that it fits.
 * Tries the largest mating faces, the axes and the flats of the hull (and more directions where the best of these does not
 * fit, may fall, or needs much support) on a coarse raster, then measures the best `fine` of them finely. Deterministic.
 */
export function posesFor(mesh: PrintMesh, rule: PrintRule, wish: Wish, fine = MEASURED): PoseOption[] {
  const light = lightPrint(mesh);
  const coarse = (c: Candidate): PoseOption => optionOf(light, c, rule, wish, COARSE);
  let tried = candidatesOf(mesh).map(coarse);
  let best = bestOf(tried);
  if (!best) return [];
  if (!best.figures.fits || best.figures.stand < 0 || best.figures.columnVolume > 0.1 * mesh.volume) {
    const known = tried.map(candidate);
    const more = apart([...known, ...evenDirections(MORE)], APART / 2).slice(known.length);
    const promise = new Map(more.map((c) => [c, mostSupport(light, c.up, rule)]));
    more.sort((a, b) => promise.get(a)! - promise.get(b)!);
    tried = [...tried, ...more.slice(0, PROMISING).map(coarse)];
    best = bestOf(tried)!;
  }
  if (rule.kind === 'resin') tried.push(...leaned(mesh, best.pose.up).map(coarse));
  const order = [...tried].sort((a, b) => a.score - b.score);
  const byPlace = new Map(order.map((o) => [o.pose.up, o]));
  const kept = apart(order.map(candidate), APART)
    .slice(0, KEPT)
    .map((c) => byPlace.get(c.up)!);
  return kept
    .map((o, i) => (i < fine ? optionOf(mesh, candidate(o), rule, wish, FINE) : o))
    .sort((a, b) => a.score - b.score);
}

const candidate = (o: PoseOption): Candidate => ({ up: o.pose.up, why: o.why });

const bestOf = (list: readonly PoseOption[]): PoseOption | null =>
  list.reduce<PoseOption | null>((best, o) => (best && best.score <= o.score ? best : o), null);

function optionOf(mesh: PrintMesh, { up, why }: Candidate, rule: PrintRule, wish: Wish, cell: number): PoseOption {
  const { figures } = measurePose(mesh, { up, spin: 0 }, rule, cell);
  const spin = figures.fits ? figures.turn : 0;
  return { pose: { up, spin }, why, figures, score: scoreOf(figures, mesh.volume, wish, rule.kind) + plainness(why) };
}

import { type Affine, inRegion, nearestRegion, type Seam, type SeamRegions, seamPlace } from '@gephyra/core/plan';
import type { RegionView } from '../../engine/seam-scope.ts';
import type { SeamSection } from './use-section.ts';

type Seed = [number, number];

/** Whether a seam as the plan keeps it cuts each region of its section. */
export function cutRegions({ regions }: Pick<SeamSection, 'regions'>, seam: Seam, map: Affine): boolean[] {
  // a box bounds a seam whatever its regions
  if (seam.kind !== 'flat' || seam.bound || !seam.regions || seam.regions.mode === 'all')
    return regions.map(() => true);
  const picked = pickedRegions(regions, seam.regions.seeds, seamPlace(seam, map).toModel);
  const wanted = seam.regions.mode === 'only';
  return regions.map((r) => picked.has(r) === wanted);
}

/** mm² of a section that are cut. */
export const areaCut = ({ regions }: Pick<SeamSection, 'regions'>, cut: readonly boolean[]): number =>
  regions.reduce((sum, r, i) => sum + (cut[i] ? r.area : 0), 0);

/** The regions a seam's seeds stand for, as evaluation finds them. */
function pickedRegions(
  regions: readonly RegionView[],
  seeds: readonly (readonly [number, number])[],
  toModel: (at: readonly [number, number]) => readonly [number, number],
): ReadonlySet<RegionView> {
  const out = new Set<RegionView>();
  for (const seed of seeds) {
    const [u, v] = toModel(seed);
    const home = nearestRegion(regions, u, v, 2);
    if (home) out.add(home);
  }
  return out;
}

/** What a seam's choice of regions becomes when one of them is switched. */
export function switched(
  now: SeamRegions | undefined,
  regions: readonly RegionView[],
  index: number,
  on: boolean,
  place: ReturnType<typeof seamPlace>,
): SeamRegions {
  const { mode, seeds } = now ?? { mode: 'all' as const, seeds: [] };
  const region = regions[index];
  const seed = tidy(place.toSource([...region.seed] as Seed));
  const others = seeds.filter((s) => {
    const [u, v] = place.toModel(s);
    return !inRegion(region, u, v) && nearestRegion(regions, u, v, 2) !== region;
  });
  if (mode === 'all') return { mode: 'allBut', seeds: on ? [] : [seed] };
  const listed = mode === 'only' ? on : !on;
  const next = listed ? [...others, seed] : others;
  return mode === 'allBut' && next.length === 0 ? { mode: 'all', seeds: [] } : { mode, seeds: next };
}

/** Nothing but one region. */
export const onlyRegion = (region: RegionView, place: ReturnType<typeof seamPlace>): SeamRegions => ({
  mode: 'only',
  seeds: [tidy(place.toSource([...region.seed] as Seed))],
});

const tidy = ([u, v]: readonly [number, number]): Seed => [Number(u.toFixed(3)), Number(v.toFixed(3))];

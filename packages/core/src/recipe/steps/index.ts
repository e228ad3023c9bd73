import type { HeavyKind, LightKind, Step, StepOf } from '../../document/index.ts';
import { bore } from './bore.ts';
import { bring, mirror, remove } from './choose.ts';
import { inlay } from './inlay.ts';
import { lay, place, turn } from './pose.ts';
import { simplify } from './simplify.ts';
import { scale, tailor, unit } from './size.ts';
import { join, separate, takeOut } from './solids.ts';
import type { HeavyStep, LightStep } from './step.ts';
import { close, drop, mend, orient, split, untangle, weld } from './surface.ts';
import { hollow, wall } from './walls.ts';

// A new step is its schema (document/recipe-schema.ts), a file here with its work, a line in one of these lists, its title (titles.ts), and
// its fields on screen.
const LIGHT: { [K in LightKind]: LightStep<StepOf<K>> } = {
  unit,
  scale,
  tailor,
  turn,
  lay,
  place,
  mirror,
  bring,
  remove,
};
const HEAVY: { [K in HeavyKind]: HeavyStep<StepOf<K>> } = {
  weld,
  drop,
  split,
  orient,
  close,
  mend,
  untangle,
  join,
  separate,
  takeOut,
  simplify,
  wall,
  hollow,
  bore,
  inlay,
};

/** What a light step does; null for a heavy one. Steps of all kinds go in: a kind is only ever given its own. */
export const lightStep = ({ kind }: Pick<Step, 'kind'>): LightStep<Step> | null =>
  ((LIGHT as Partial<Record<Step['kind'], unknown>>)[kind] as LightStep<Step> | undefined) ?? null;

/** What a heavy step does; null for a light one. */
export const heavyStep = ({ kind }: Pick<Step, 'kind'>): HeavyStep<Step> | null =>
  ((HEAVY as Partial<Record<Step['kind'], unknown>>)[kind] as HeavyStep<Step> | undefined) ?? null;

export { benchFor } from './bench.ts';
export type { Tools } from './step.ts';

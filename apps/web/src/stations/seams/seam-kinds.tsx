import { type Affine, type Point, type Seam, sampled } from '@gephyra/core';
import type { ReactNode } from 'react';
import type { BoxView } from '../../engine/types.ts';
import { axisName, baseAxis } from '../../project/seam-math.ts';
import { FanPanel } from './fan-panel.tsx';
import { ProfilePanel } from './profile-panel.tsx';
import { RingPanel } from './ring-panel.tsx';
import { bladeSheets, sweptSheets } from './sheets.ts';
import type { SeamSection } from './use-section.ts';

/** What the screen knows of a kind of seam. */
interface ShownKind<S extends Seam> {
  /** what is said of it first */
  said(seam: S): string;
  /** corners of the quads that show where it runs, twelve numbers a quad, on the model */
  sheets(seam: S, map: Affine, box: BoxView): Float32Array;
  /** its drawing and sizes; null: those of a plane */
  readonly Panel: ((props: { readonly seam: S; readonly section: SeamSection | null }) => ReactNode) | null;
}

const KINDS: { readonly [K in Seam['kind']]: ShownKind<Extract<Seam, { kind: K }>> } = {
  flat: {
    said: (seam) => `square to ${axisName(baseAxis(seam.normal))}`,
    // its sheet is drawn with the section
    sheets: () => new Float32Array(0),
    Panel: null,
  },
  fan: { said: (seam) => `${seam.count} half-planes`, sheets: bladeSheets, Panel: FanPanel },
  ring: {
    said: (seam) => `radius ${seam.radius.toFixed(1)}`,
    sheets: (seam, map, box) => sweptSheets(seam, circle(seam.radius), 0, map, box),
    Panel: RingPanel,
  },
  profile: {
    said: (seam) => `${seam.points.length} points`,
    sheets: (seam, map, box) => sweptSheets(seam, sampled(seam), seam.bend, map, box),
    Panel: ProfilePanel,
  },
};

const circle = (radius: number): Point[] =>
  Array.from({ length: 65 }, (_, i) => {
    const a = (i / 64) * 2 * Math.PI;
    return [radius * Math.cos(a), radius * Math.sin(a)];
  });

/** What the screen knows of a seam by its kind. Seams of all kinds go in: a kind is only ever given its own. */
export const shownKind = ({ kind }: Pick<Seam, 'kind'>): ShownKind<Seam> => KINDS[kind] as ShownKind<Seam>;

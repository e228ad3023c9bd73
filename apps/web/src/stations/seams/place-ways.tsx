import { cross, dot, freeId, IDENTITY, normalize, perAxis, type Seam, type SeamInput, sub, vecOf } from '@gephyra/core';
import { useState } from 'react';
import type { Triple } from '../../engine/types.ts';
import { useProject } from '../../project/project.tsx';
import {
  axisName,
  baseAxis,
  pointInPlan,
  sameWay,
  seamAcross,
  seamInPlan,
  seamTitle,
  wayInPlan,
} from '../../project/seam-math.ts';
import { type Sight, useSelection, useWorkspace } from '../../project/selection.tsx';
import { Button } from '../../ui/button.tsx';
import { useToasts } from '../../ui/toasts.tsx';

type Vec = [number, number, number];

/** The keys that place a seam: across an axis, and the other ways behind “More ways”. */
export function PlaceWays({ seams, selected }: { seams: readonly Seam[]; selected: Seam | null }) {
  const { plan, view, model, engine, change } = useProject();
  const { setPicker } = useWorkspace();
  const [, select] = useSelection();
  const toasts = useToasts();
  const [open, setOpen] = useState(false);
  const map = view?.map ?? IDENTITY;
  const ready = view !== null && model !== null;

  const add = (label: string, seam: Record<string, unknown>): void => {
    const id = freeId('s', plan.seams);
    setPicker(null);
    const ids = change(label, { do: 'addSeam', seam: { id, ...seam } as unknown as SeamInput });
    select({ seam: ids.get(id) ?? id, tool: null });
  };
  const addPlane = (label: string, name: string, origin: Triple, normal: Triple): void =>
    add(label, { kind: 'flat', name, ...seamInPlan({ origin: [...origin] as Vec, normal: [...normal] as Vec }, map) });
  const sorry = (text: string): void => {
    setPicker(null);
    toasts.say({ text, tone: 'warn' });
  };

  /** The middle of the longest stretch between seams of that axis. */
  const across = (axis: number): void => {
    if (!view) return;
    const { box } = view;
    const unit = vecOf((a) => (a === axis ? 1 : 0));
    const stops = [
      box.min[axis],
      ...seams.filter((s) => s.enabled && s.kind === 'flat' && sameWay(s.normal, unit)).map((s) => s.origin[axis]),
      box.max[axis],
    ].sort((a, b) => a - b);
    let best = 0;
    stops.forEach((x, i) => {
      if (i > 0 && i + 1 < stops.length && stops[i + 1] - x > stops[best + 1] - stops[best]) best = i;
    });
    const at = Number(((stops[best] + stops[best + 1]) / 2).toFixed(3));
    const { origin, normal } = seamAcross('', axis, at, box);
    addPlane(`Add a seam across ${axisName(axis)}`, '', origin, normal);
  };
  const mirror = async (): Promise<void> => {
    const plane = await engine?.mirror();
    if (!plane) return sorry('The model is nowhere near its own mirror image, so it has no mirror plane.');
    addPlane('Add a seam along the mirror plane', 'Mirror plane', plane.at, plane.normal);
  };
  const face = (square: boolean): void =>
    setPicker({
      prompt: square
        ? 'Pick the face that the seam is to be square to.'
        : 'Pick the face that the seam is to be level with.',
      onPlace: ({ at, normal }) => {
        const upright: Triple = Math.abs(normal[2]) < 0.9 ? [0, 0, 1] : [0, 1, 0];
        const n = square ? normalize(cross(normal, upright)) : normal;
        addPlane(square ? 'Add a seam square to a face' : 'Add a seam level with a face', '', at, n);
      },
    });
  const three = (soFar: readonly Triple[]): void =>
    setPicker({
      prompt: `Pick point ${soFar.length + 1} of 3 of the seam.`,
      onPlace: ({ at }) => {
        const points = [...soFar, at];
        if (points.length < 3) return three(points);
        const n = cross(sub(points[1], points[0]), sub(points[2], points[0]));
        if (Math.hypot(...n) < 1e-6) return sorry('The three points lie in one line. Pick three that do not.');
        addPlane('Add a seam through three points', 'Through three points', points[0], towardsPlus(normalize(n)));
      },
    });
  const drawn = (first: Sight | null): void =>
    setPicker({
      prompt: first ? 'Pick where the line ends.' : 'Pick where the line across the view begins.',
      onSight: (sight) => {
        if (!first) return drawn(sight);
        const reach = (s: Sight): Triple => perAxis(s.origin, (x, a) => x + s.direction[a] * 100);
        // the plane holds both lines of sight, so that it is seen as a line
        const n = cross(sub(reach(sight), first.origin), first.direction);
        if (Math.hypot(...n) < 1e-9) return sorry('The line is too short. Pick two places farther apart.');
        const at = middleOf(view!.box, first, normalize(n));
        addPlane('Add a seam by a drawn line', 'Drawn line', at, towardsPlus(normalize(n)));
      },
    });
  const limb = (): void =>
    setPicker({
      prompt: 'Pick the limb that is to be cut straight across.',
      onPlace: async ({ body, at, normal }) => {
        const found = await engine?.limb(body, at, normal);
        if (!found) return sorry('No section closes there. Pick a place on a closed body.');
        addPlane('Add a seam square to a limb', 'Square to the limb', found.at, found.axis);
      },
    });
  const beside = (): void => {
    if (!selected) return;
    const origin = selected.origin.map((x, a) => x + selected.normal[a] * 20) as Vec;
    addPlane(`Add a seam beside ${seamTitle(selected)}`, '', origin, selected.normal);
  };
  const round = (kind: 'fan' | 'ring'): void =>
    setPicker({
      prompt:
        kind === 'fan'
          ? 'Pick the rim, hole or hoop that the fan goes round.'
          : 'Pick the rim or hole that the ring goes round.',
      onPlace: async ({ body, at, normal }) => {
        const found = await engine?.round(body, at, normal);
        if (!found) return sorry('Nothing is round there. Pick a rim, a hole or a hoop, or add it and type its axis.');
        const origin = pointInPlan(found.origin, map);
        const axis = wayInPlan(found.axis, map);
        const scale = Math.hypot(...wayInPlan(normalize(cross(found.axis, [0.3, 0.5, 0.8])), map));
        if (kind === 'fan') add('Add a fan', { kind, name: '', origin, normal: axis, count: 6 });
        else
          add('Add a ring', {
            kind,
            name: '',
            origin,
            normal: axis,
            radius: Number((found.radius * 0.5 * scale).toFixed(3)),
          });
      },
    });
  const roundMiddle = (): void => {
    if (!view) return;
    const middle = perAxis(view.box.min, (x, a) => (x + view.box.max[a]) / 2);
    const size = view.box.max.map((x, a) => x - view.box.min[a]);
    const axis = size.indexOf(Math.min(...size));
    const normal = vecOf((a) => (a === axis ? 1 : 0));
    add('Add a fan', {
      kind: 'fan',
      name: '',
      origin: pointInPlan(middle, map),
      normal: wayInPlan(normal, map),
      count: 6,
    });
  };
  const line = (): void => {
    if (!view) return;
    const { min, max } = view.box;
    const middle = perAxis(min, (x, a) => (x + max[a]) / 2);
    const reach = ((max[0] - min[0]) / 2) * Math.hypot(...wayInPlan([1, 0, 0], map));
    // seen from the front: u runs to the right, v up
    const points = [-1, -0.5, 0, 0.5, 1].map((k) => [Number((k * reach * 1.05).toFixed(3)), 0]);
    add('Add a profile line', {
      kind: 'profile',
      name: '',
      origin: pointInPlan(middle, map),
      normal: wayInPlan([0, -1, 0], map),
      up: wayInPlan([0, 0, 1], map),
      points,
      curve: 'free',
    });
  };

  const ways: readonly (readonly [string, () => void, boolean?])[] = [
    ['Along the mirror plane', () => void mirror()],
    ['Level with a picked face', () => face(false)],
    ['Square to a picked face', () => face(true)],
    ['Through three points', () => three([])],
    ['By a line across the view', () => drawn(null)],
    ['Square to a limb', limb],
    ['Beside the selected seam', beside, selected === null || selected.kind !== 'flat'],
    ['Fan round a picked rim', () => round('fan')],
    ['Fan round the middle', roundMiddle],
    ['Ring round a picked rim', () => round('ring')],
    ['Profile line', line],
    ['Grid of seams', () => select({ tool: 'grid' })],
  ];
  return (
    <>
      <div
        role="group"
        aria-label="Add a seam"
        className="mb-2 flex overflow-hidden rounded border border-ink bg-ink text-sheet"
      >
        {[0, 1, 2].map((axis) => (
          <button
            key={axis}
            type="button"
            aria-label={`Add a seam across ${axisName(axis)}`}
            disabled={!ready}
            className="h-[30px] grow border-ink-soft border-r last:border-r-0 hover:bg-[#2c3c47] disabled:opacity-50"
            onClick={() => across(axis)}
          >
            {axis === 0 ? 'Add across x' : axisName(axis)}
          </button>
        ))}
      </div>
      <Button
        className="mb-2 w-full"
        aria-expanded={open}
        aria-controls="ways"
        disabled={!ready}
        onClick={() => setOpen(!open)}
      >
        {open ? 'Fewer ways' : 'More ways to place'}
      </Button>
      {open && (
        <ul id="ways" aria-label="More ways to place" className="mb-3 grid grid-cols-2 gap-1">
          {ways.map(([title, run, off]) => (
            <li key={title}>
              <button
                type="button"
                disabled={off}
                className="min-h-9 w-full rounded border border-rule-strong px-1.5 py-1 text-left text-sm leading-4 hover:border-ink disabled:opacity-45"
                onClick={run}
              >
                {title}
              </button>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

/** A normal turned so that it looks along its largest axis. */
function towardsPlus(n: Triple): Triple {
  return n[baseAxis(n)] < 0 ? [-n[0], -n[1], -n[2]] : n;
}

/** The point of a plane through a line of sight that is nearest to the middle of a box. */
function middleOf(box: { min: Triple; max: Triple }, { origin }: Sight, normal: Triple): Triple {
  const middle = perAxis(box.min, (x, a) => (x + box.max[a]) / 2);
  const h = dot(sub(middle, origin), normal);
  return perAxis(middle, (x, a) => x - normal[a] * h);
}

import { freeId, IDENTITY, SEAM_KINDS, type Seam, seamKind } from '@gephyra/core/plan';
import { useEffect, useRef } from 'react';
import type { Triple } from '../../engine/types.ts';
import { useProject } from '../../project/project.tsx';
import { axisName, seamTitle } from '../../project/seam-math.ts';
import { type Picker, type Sight, useSelection, useWorkspace } from '../../project/selection.tsx';
import { type Searching, useSearch } from '../../project/use-search.ts';
import { useToasts } from '../../ui/toasts.tsx';
import {
  acrossLongest,
  beside,
  byLine,
  flatSeam,
  lineFromFront,
  type NewSeam,
  seamRound,
  seamRoundMiddle,
  squareTo,
  throughPoints,
} from './placing.ts';

/** Kinds of seam that go round an axis. */
const ROUND = SEAM_KINDS.filter((kind) => seamKind({ kind }).about);

interface LimbPlace {
  readonly seam: NewSeam;
  /** mm² */
  readonly area: number;
}

/** One way to place a seam: its name, what starts it, and whether it can be used now. */
export interface Way {
  readonly title: string;
  readonly run: () => void;
  readonly off?: boolean;
}

/**
 * The ways to place a seam: `across` an axis at once, and the others, most of which wait for something to be picked in the
 * view. What is only tried goes to `onTry`, and nothing when picking ends.
 */
export function usePlacing(
  seams: readonly Seam[],
  selected: Seam | null,
  onTry: (seam: NewSeam | null) => void,
): { ready: boolean; searching: Searching | null; across: (axis: number) => void; ways: readonly Way[] } {
  const { plan, view, model, engine, change } = useProject();
  const { searching, search } = useSearch();
  const { picker, setPicker } = useWorkspace();
  // picking may be stopped while an answer is computed
  const now = useRef(picker);
  now.current = picker;
  const [, select] = useSelection();
  const toasts = useToasts();
  const map = view?.map ?? IDENTITY;

  const add = (label: string, seam: NewSeam): void => {
    const id = freeId('s', plan.seams);
    setPicker(null);
    const ids = change(label, { do: 'addSeam', seam: { ...seam, id } });
    select({ seam: ids.get(id) ?? id, tool: null });
  };
  /** Adds what was found, or says why nothing was. */
  const addOr = (label: string, seam: NewSeam | null, sorry: string): void => {
    if (seam) add(label, seam);
    else {
      setPicker(null);
      toasts.say({ text: sorry, tone: 'warn' });
    }
  };

  const mirror = async (): Promise<void> => {
    const plane = await search(
      'Looking for the mirror plane',
      async (engine, tell) => (await engine.mirror(plan, tell)) ?? 'none',
    );
    if (!plane) return;
    addOr(
      'Add a seam along the mirror plane',
      plane !== 'none' ? flatSeam(plane.at, plane.normal, map, 'Mirror plane') : null,
      'The model is nowhere near its own mirror image, so it has no mirror plane.',
    );
  };
  const level = (): void =>
    setPicker({
      prompt: 'Pick the face that the seam is to be level with.',
      onPlace: ({ at, normal }) => add('Add a seam level with a face', flatSeam(at, normal, map)),
    });
  const square = (): void =>
    setPicker({
      prompt: 'Pick the face that the seam is to be square to.',
      onPlace: ({ at, normal }) => add('Add a seam square to a face', flatSeam(at, squareTo(normal), map)),
    });
  const points = (soFar: readonly Triple[]): void =>
    setPicker({
      prompt: `Pick point ${soFar.length + 1} of 3 of the seam.`,
      onPlace: ({ at }) => {
        const all = [...soFar, at];
        if (all.length < 3) return points(all);
        addOr(
          'Add a seam through three points',
          throughPoints(all, map),
          'The three points lie in one line. Pick three that do not.',
        );
      },
    });
  const drawn = (first: Sight | null): void =>
    setPicker({
      prompt: first ? 'Pick where the line ends.' : 'Pick where the line across the view begins.',
      onSight: (sight) => {
        if (!first || !view) return drawn(sight);
        addOr(
          'Add a seam by a drawn line',
          byLine(first, sight, view.box, map),
          'The line is too short. Pick two places farther apart.',
        );
      },
    });
  /** Shows where the seam would go until it is taken: what else lies in its plane stays whole. */
  const limb = (found: LimbPlace | null = null): void => {
    const asked: Picker = {
      prompt: found
        ? `Cuts ${(found.area / 100).toFixed(1)} cm² straight across. Add it, or pick another place.`
        : 'Pick the limb that is to be cut straight across.',
      ...(found && { take: { title: 'Add the seam', run: () => add('Add a seam square to a limb', found.seam) } }),
      onPlace: async ({ body, at, normal }) => {
        const limbThere = engine && (await engine.limb(body, at, normal));
        if (now.current !== asked) return;
        if (!limbThere) {
          toasts.say({ text: 'No section closes there. Pick a place on a closed body.', tone: 'warn' });
          return;
        }
        const { at: middle, axis, area } = limbThere;
        const seam: NewSeam = {
          ...flatSeam(middle, axis, map, 'Square to the limb'),
          regions: { mode: 'only', seeds: [[0, 0]] },
        };
        onTry(seam);
        limb({ seam, area });
      },
    };
    setPicker(asked);
  };
  useEffect(() => {
    if (picker === null) onTry(null);
  }, [picker, onTry]);
  const round = (kind: Seam['kind']): void =>
    setPicker({
      prompt: `Pick the rim, hole or hoop that the ${kind} goes round.`,
      onPlace: async ({ body, at, normal }) => {
        const found = await engine?.round(body, at, normal);
        addOr(
          `Add a ${kind}`,
          found ? seamRound(kind, found, map) : null,
          'Nothing is round there. Pick a rim, a hole or a hoop, or add it and type its axis.',
        );
      },
    });

  return {
    searching,
    ready: view !== null && model !== null,
    across: (axis) => view && add(`Add a seam across ${axisName(axis)}`, acrossLongest(axis, view.box, seams, map)),
    ways: [
      { title: 'Along the mirror plane', run: () => void mirror() },
      { title: 'Level with a picked face', run: level },
      { title: 'Square to a picked face', run: square },
      { title: 'Through three points', run: () => points([]) },
      { title: 'By a line across the view', run: () => drawn(null) },
      { title: 'Square to a limb', run: () => limb() },
      {
        title: 'Beside the selected seam',
        run: () => selected && add(`Add a seam beside ${seamTitle(selected)}`, beside(selected, map)),
        off: selected?.kind !== 'flat',
      },
      ...ROUND.flatMap((kind): Way[] => [
        { title: `${seamKind({ kind }).title} a picked rim`, run: () => round(kind) },
        {
          title: `${seamKind({ kind }).title} the middle`,
          run: () => view && add(`Add a ${kind}`, seamRoundMiddle(kind, view.box, map)),
        },
      ]),
      { title: 'Profile line', run: () => view && add('Add a profile line', lineFromFront(view.box, map)) },
      { title: 'Along the file’s colours', run: () => select({ tool: 'colours' }) },
      { title: 'Grid of seams', run: () => select({ tool: 'grid' }) },
    ],
  };
}

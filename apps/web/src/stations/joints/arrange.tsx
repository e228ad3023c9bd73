import { alongLine, evenly, freeId, type Joint, type PlanChange, reflected } from '@gephyra/core/plan';
import { useState } from 'react';
import type { FaceHelp } from '../../engine/joints.ts';
import type { FaceView, JointView } from '../../engine/types.ts';
import { useProject } from '../../project/project.tsx';
import { useSearch } from '../../project/use-search.ts';
import { Button } from '../../ui/button.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { useToasts } from '../../ui/toasts.tsx';
import { Working } from '../../ui/working.tsx';
import { usePlaces } from './use-place.ts';

type Point = readonly [number, number];

/** Copies, mirrors, spreads and lines up the joints of a face. */
export function Arrange({
  face,
  joint,
  here,
  help,
}: {
  face: FaceView;
  joint: Joint;
  here: readonly JointView[];
  help: FaceHelp | null;
}) {
  const { plan, change, engine } = useProject();
  const { searching, search } = useSearch();
  const place = usePlaces()(joint);
  const toasts = useToasts();
  const [count, setCount] = useState(3);
  const at = place.toModel(joint.at);
  const others = here.filter((j) => j.id !== joint.id);

  const copies = (label: string, points: readonly Point[], turn?: (p: Point) => number): void => {
    const joints: Joint[] = [];
    for (const p of points) {
      const id = freeId('j', [...plan.joints, ...joints]);
      joints.push({ ...joint, id, at: place.toSource([p[0], p[1]]), turn: turn ? turn(p) : joint.turn });
    }
    if (joints.length > 0) change(label, { do: 'addJoints', joints });
  };
  const move = (label: string, ids: readonly string[], points: readonly Point[]): void => {
    const changes = ids.map(
      (id, i): PlanChange => ({ do: 'setJoint', id, set: { at: place.toSource([points[i][0], points[i][1]]) } }),
    );
    if (changes.length > 0) change(label, ...changes);
  };
  const spread = async (): Promise<void> => {
    if (!engine) return;
    const points = await engine.wallPlaces(plan, face.id, count, joint);
    if (points.length === 0) return;
    const nearest = points.reduce((a, b) =>
      Math.hypot(b[0] - at[0], b[1] - at[1]) < Math.hypot(a[0] - at[0], a[1] - at[1]) ? b : a,
    );
    const joints: Joint[] = [];
    for (const p of points.filter((q) => q !== nearest)) {
      joints.push({ ...joint, id: freeId('j', [...plan.joints, ...joints]), at: place.toSource(p) });
    }
    change(
      `Spread ${points.length} along the wall`,
      { do: 'setJoint', id: joint.id, set: { at: place.toSource(nearest) } },
      { do: 'addJoints', joints },
    );
  };
  const line = (): void => {
    // from this joint to the one farthest away, or across the middle
    const far = others.reduce<Point | null>(
      (best, j) =>
        !best || Math.hypot(j.u - at[0], j.v - at[1]) > Math.hypot(best[0] - at[0], best[1] - at[1])
          ? [j.u, j.v]
          : best,
      null,
    ) ?? [2 * face.pole.u - at[0], 2 * face.pole.v - at[1]];
    const points = alongLine(at, far, count).slice(1, others.length > 0 ? -1 : undefined);
    copies(`Spread ${count} along a line`, points);
  };
  const mirror = async (): Promise<void> => {
    const image = await search(
      'Looking for the mirror plane',
      async (engine, tell) => (await engine.mirroredJoint(plan, joint.id, tell)) ?? 'none',
    );
    if (!image) return;
    if (image === 'none') {
      toasts.say({ text: 'The model has no mirror plane, or no face lies on the other side of it.', tone: 'warn' });
      return;
    }
    change(`Mirror ${joint.id} across the model`, {
      do: 'addJoint',
      joint: { ...image, id: freeId('j', plan.joints) },
    });
  };
  const axis = help?.axis ?? null;
  const thin = (help?.middle.length ?? 0) > 0;
  return (
    <div className="flex flex-col gap-2">
      <div className="flex flex-wrap gap-1.5">
        <Button onClick={() => copies(`Copy ${joint.id}`, [[at[0] + Math.max(2, face.pole.distance / 2), at[1]]])}>
          Copy
        </Button>
        <Button
          disabled={!axis}
          onClick={() =>
            axis &&
            copies(`Mirror ${joint.id}`, [reflected(axis, at)], () => 2 * Math.atan2(axis.dv, axis.du) - joint.turn)
          }
        >
          Mirror about the axis
        </Button>
        <Button disabled={searching !== null} onClick={() => void mirror()}>
          Mirror across the model
        </Button>
      </div>
      {searching && <Working label="Search for the mirror plane" working={searching} />}
      <div className="flex items-end gap-1.5">
        <div className="w-20">
          <NumberField
            label="How many"
            unit=""
            digits={0}
            value={count}
            min={2}
            max={60}
            onCommit={(x) => setCount(Math.round(x))}
          />
        </div>
        <Button onClick={line}>Along a line</Button>
        <Button disabled={!thin} onClick={() => void spread()}>
          Along the wall
        </Button>
      </div>
      {others.length > 0 && (
        <div className="flex flex-wrap gap-1.5">
          <Button
            onClick={() =>
              move(
                `Line up with ${joint.id}`,
                others.map((j) => j.id),
                others.map((j): Point => [j.u, at[1]]),
              )
            }
          >
            Same v
          </Button>
          <Button
            onClick={() =>
              move(
                `Line up with ${joint.id}`,
                others.map((j) => j.id),
                others.map((j): Point => [at[0], j.v]),
              )
            }
          >
            Same u
          </Button>
          <Button
            disabled={here.length < 3}
            onClick={() =>
              move(
                'Equal spacing',
                here.map((j) => j.id),
                evenly(here.map((j): Point => [j.u, j.v])),
              )
            }
          >
            Equal spacing
          </Button>
        </div>
      )}
    </div>
  );
}

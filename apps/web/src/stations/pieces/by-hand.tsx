import {
  hoursText,
  laidOn,
  type Pose,
  poseOnModel,
  radians,
  turnedPose,
  UPRIGHT,
  upInSource,
  type Vec3,
} from '@gephyra/core/plan';
import { useState } from 'react';
import type { LyingView } from '../../engine/prints.ts';
import type { PieceView } from '../../engine/types.ts';
import { useProject } from '../../project/project.tsx';
import { useWorkspace } from '../../project/selection.tsx';
import { Button } from '../../ui/button.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Facts } from '../../ui/panels.tsx';
import { Pick } from '../../ui/pick.tsx';

const AXES: Readonly<Record<'x' | 'y' | 'z', Vec3>> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };

const AXIS_WORDS: readonly { value: 'x' | 'y' | 'z'; label: string }[] = [
  { value: 'x', label: 'x' },
  { value: 'y', label: 'y' },
  { value: 'z', label: 'z, spin' },
];

/** Laying a piece by hand: on a picked face, and turned about the bed's axes; with its numbers. */
export function ByHand({ piece, lying }: { piece: PieceView; lying: LyingView | null }) {
  const { plan, view, prints, change } = useProject();
  const { setPicker } = useWorkspace();
  const [axis, setAxis] = useState<'x' | 'y' | 'z'>('x');
  const [angle, setAngle] = useState(15);
  const print = prints.byKey.get(piece.key);
  if (!view) return null;
  const take = (label: string, next: Pose) =>
    change(label, {
      do: 'setPiece',
      key: piece.key,
      set: { pose: { up: [...upInSource(next.up, view.map)], spin: next.spin, by: 'hand' } },
    });
  const own = plan.pieces.find((p) => p.key === piece.key)?.pose;
  const pose = print?.of !== piece.key ? UPRIGHT : own ? poseOnModel(own, view.map) : print.pose;
  const { figures: f, estimate } = lying ?? { figures: print?.figures, estimate: print?.estimate };
  return (
    <div className="grid grid-cols-2 gap-4 pt-3">
      <div className="flex flex-col gap-2">
        <Button
          disabled={!print || print.of !== piece.key}
          onClick={() =>
            setPicker({
              prompt: 'Pick the face that shall lie on the bed.',
              onFace: (normal) => {
                setPicker(null);
                take(`Lay ${piece.code} on a face`, laidOn(pose, normal));
              },
            })
          }
        >
          Lay on a picked face
        </Button>
        <div className="flex items-end gap-2">
          <Pick
            label="Turn about"
            value={axis}
            options={AXIS_WORDS}
            onChange={(next: 'x' | 'y' | 'z') => setAxis(next)}
          />
          <div className="w-24">
            <NumberField label="By" unit="°" min={-360} max={360} value={angle} step={5} onCommit={setAngle} />
          </div>
        </div>
        <div className="flex gap-2">
          {[angle, -angle].map((by) => (
            <Button
              key={String(by)}
              className="grow"
              disabled={!print || print.of !== piece.key}
              onClick={() =>
                take(`Turn ${piece.code} by ${by}° about ${axis}`, turnedPose(pose, AXES[axis], radians(by)))
              }
            >
              {by > 0 ? '+' : '−'}
              {Math.abs(by)}°
            </Button>
          ))}
        </div>
        <Button
          disabled={!own}
          onClick={() =>
            change(`Take the pose of ${piece.code} back`, { do: 'setPiece', key: piece.key, set: { pose: undefined } })
          }
        >
          Upright as modelled
        </Button>
      </div>
      {print && f && estimate ? (
        <Facts
          rows={[
            [
              'lies',
              <span className="font-sans" key="why">
                {own ? (own.why ?? 'set by hand') : print.why}
              </span>,
            ],
            ['rest', `${(f.restArea / 100).toFixed(1)} cm²`],
            ['overhang', `${(f.overhangArea / 100).toFixed(1)} cm²`],
            ['support', `${(f.supportVolume / 1000).toFixed(1)} cm³`],
            ['height', `${f.height.toFixed(1)} mm`],
            ['time', hoursText(estimate.hours)],
            ['of it support', hoursText(estimate.supportHours)],
            ['weight', `${estimate.grams.toFixed(0)} g`],
            ['cost', estimate.cost.toFixed(2)],
          ]}
        />
      ) : (
        <p className="text-ink-soft">The pose is being measured.</p>
      )}
    </div>
  );
}

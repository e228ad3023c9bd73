import { IDENTITY, makeFrame, type Seam, vecOf } from '@gephyra/core/plan';
import { useState } from 'react';
import type { Triple } from '../../engine/types.ts';
import { useProject } from '../../project/project.tsx';
import {
  axisName,
  baseAxis,
  leaning,
  leans,
  onPlane,
  otherAxes,
  seamInPlan,
  seamTitle,
  tilted,
  turnedBy,
} from '../../project/seam-math.ts';
import { useWorkspace } from '../../project/selection.tsx';
import { Button } from '../../ui/button.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Part } from '../../ui/panels.tsx';
import { Rename } from '../../ui/rename.tsx';

const STEPS = [-15, -5, 5, 15];

/** Name, place and tilt of a seam (on the model), by typed number and by steps. */
export function TiltPanel({ seam }: { seam: Seam }) {
  const { change, view } = useProject();
  const { setPicker } = useWorkspace();
  /** the place that stays where it is when the seam is tilted */
  const [pivot, setPivot] = useState<Triple | null>(null);
  const map = view?.map ?? IDENTITY;
  const title = seamTitle(seam);
  const axis = baseAxis(seam.normal);
  const [a, b] = leans(seam.normal);
  const [first, second] = otherAxes(axis);
  const set = (label: string, next: Record<string, unknown>) =>
    change(label, { do: 'setSeam', id: seam.id, set: next });
  const turnTo = (normal: Triple) => set(`Lean ${title}`, seamInPlan(tilted(seam, normal, pivot ?? seam.origin), map));
  const { u, v } = makeFrame(seam.origin, seam.normal, seam.up);
  return (
    <Part title="Place">
      <div className="flex flex-col gap-2">
        <div>
          <span aria-hidden className="mb-0.5 block text-ink-soft text-sm">
            Name
          </span>
          <Rename
            value={title}
            label="Seam name"
            className="h-[30px] w-full"
            framed
            onCommit={(name) => set(`Rename ${title} to ${name}`, { name })}
          />
        </div>
        {seam.kind === 'flat' ? (
          <NumberField
            label={`Position along ${axisName(axis)}`}
            value={seam.origin[axis]}
            onCommit={(x) => {
              const origin = [...seam.origin] as Seam['origin'];
              origin[axis] = x;
              set(`Move ${title} to ${x.toFixed(1)}`, { origin: seamInPlan({ ...seam, origin }, map).origin });
            }}
          />
        ) : (
          <div className="grid grid-cols-3 gap-2">
            {[0, 1, 2].map((k) => (
              <NumberField
                key={k}
                label={`Middle ${axisName(k)}`}
                value={seam.origin[k]}
                onCommit={(x) => {
                  const origin = [...seam.origin] as Seam['origin'];
                  origin[k] = x;
                  set(`Move ${title}`, { origin: seamInPlan({ ...seam, origin }, map).origin });
                }}
              />
            ))}
          </div>
        )}
        <div className="grid grid-cols-2 gap-2">
          <NumberField
            label={`Lean to ${axisName(first)}`}
            unit="°"
            value={a}
            min={-89}
            max={89}
            onCommit={(x) => turnTo(leaning(axis, x, b))}
          />
          <NumberField
            label={`Lean to ${axisName(second)}`}
            unit="°"
            value={b}
            min={-89}
            max={89}
            onCommit={(x) => turnTo(leaning(axis, a, x))}
          />
        </div>
        {(
          [
            ['Tilt', u],
            ['Turn', v],
          ] as const
        ).map(([word, about]) => (
          <div key={word} role="group" aria-label={`${word} in steps`} className="flex items-center gap-1">
            <span className="w-9 text-ink-soft text-sm">{word}</span>
            {STEPS.map((degrees) => (
              <Button
                key={degrees}
                className="num h-6 grow px-1 text-sm"
                aria-label={`${word} by ${degrees}°`}
                onClick={() => turnTo(turnedBy(seam.normal, about, degrees))}
              >
                {degrees > 0 ? '+' : '−'}
                {Math.abs(degrees)}°
              </Button>
            ))}
          </div>
        ))}
        <div className="flex flex-wrap gap-1.5">
          <Button
            className="h-7"
            disabled={a === 0 && b === 0}
            onClick={() => turnTo(vecOf((k) => (k === axis ? 1 : 0)))}
          >
            Square up to {axisName(axis)}
          </Button>
          <Button
            className="h-7"
            onClick={() =>
              setPicker({
                prompt: 'Pick the place that the seam is to keep while it tilts.',
                onPlace: ({ at }) => {
                  setPicker(null);
                  setPivot(onPlane(seam, at));
                },
              })
            }
          >
            Tilt about a place
          </Button>
        </div>
        {pivot && (
          <p className="text-ink-soft text-sm">
            Tilts about <span className="num">{pivot.map((x) => x.toFixed(1)).join(', ')}</span>.{' '}
            <button type="button" className="text-lapis underline" onClick={() => setPivot(null)}>
              About its own middle
            </button>
          </p>
        )}
      </div>
    </Part>
  );
}

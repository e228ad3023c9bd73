import type { StepInput } from '@gephyra/core/plan';
import { stepSchemaOf } from '@gephyra/core/plan';
import { useState } from 'react';
import { useProject } from '../../project/project.tsx';
import { useSelection } from '../../project/selection.tsx';
import type { Marker } from '../../project/shown.ts';
import { bounded } from '../../ui/bounded.ts';
import { Button } from '../../ui/button.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Part } from '../../ui/panels.tsx';
import { Preview } from './preview.tsx';
import { WallPart } from './wall-part.tsx';

const ON_BODIES: readonly StepInput['kind'][] = ['join', 'separate', 'takeOut'];
const ON_TRIANGLES: readonly StepInput['kind'][] = ['simplify'];

/** Steps whose previews stand beside their keys among the solids. */
export const IN_PLACE: readonly StepInput['kind'][] = [...ON_BODIES, ...ON_TRIANGLES, 'wall', 'hollow', 'bore'];

/** Joining, separating, taking out, simplifying, walls and hollows. */
export function SolidsPanel({ onShow }: { onShow(markers: readonly Marker[], focus: Marker | null): void }) {
  const { plan, view, preview } = useProject();
  const [{ body }] = useSelection();
  const [gap, setGap] = useState(0.2);
  const [triangles, setTriangles] = useState(200_000);
  const [deviation, setDeviation] = useState(0.05);
  if (!view) return null;
  const chosen = view.bodies.find((b) => b.id === body);
  const nameOf = (id: string): string =>
    plan.bodies.find((b) => b.id === id)?.name || (view.bodies.find((b) => b.id === id)?.name ?? id);
  const on = body ? { on: [body] } : {};
  const others = view.bodies.filter((b) => b.id !== body && b.closed).map((b) => b.id);
  return (
    <>
      <Part title="Bodies" note={chosen ? nameOf(chosen.id) : 'all bodies'}>
        <div className="flex flex-col gap-2">
          <div className="flex flex-wrap gap-2">
            <Button disabled={view.bodies.length < 2} onClick={() => preview({ kind: 'join' })}>
              Join all into one solid
            </Button>
            <Button onClick={() => preview({ kind: 'separate', ...on })}>One body per shell</Button>
          </div>
          <div className="flex items-end gap-2">
            <NumberField
              label="Gap on each side"
              value={gap}
              {...bounded(stepSchemaOf('takeOut').shape.gap)}
              step={0.05}
              onCommit={setGap}
            />
            <Button
              disabled={!chosen || others.length === 0}
              onClick={() => chosen && preview({ kind: 'takeOut', body: chosen.id, from: others, gap })}
            >
              Take it out of the others
            </Button>
          </div>
          {!chosen && view.bodies.length > 1 && (
            <p className="text-ink-soft text-sm">Select a body on the left to take it out of those it sits in.</p>
          )}
          <Preview of={ON_BODIES} />
        </div>
      </Part>
      <Part
        title="Simplify"
        note={`${view.bodies.reduce((n, b) => n + b.triangles, 0).toLocaleString('en')} triangles`}
      >
        <div className="flex flex-col gap-2">
          <div className="flex items-end gap-2">
            <NumberField
              label="Deviation"
              value={deviation}
              digits={4}
              step={0.01}
              {...bounded(stepSchemaOf('simplify').shape.deviation)}
              onCommit={setDeviation}
            />
            <Button onClick={() => preview({ kind: 'simplify', deviation, ...on })}>By deviation</Button>
          </div>
          <div className="flex items-end gap-2">
            <NumberField
              label="Triangles left"
              unit=""
              value={triangles}
              digits={0}
              step={1000}
              {...bounded(stepSchemaOf('simplify').shape.triangles)}
              onCommit={setTriangles}
            />
            <Button onClick={() => preview({ kind: 'simplify', triangles, ...on })}>By count</Button>
          </div>
          <Preview of={ON_TRIANGLES} />
        </div>
      </Part>
      <WallPart onShow={onShow} />
    </>
  );
}

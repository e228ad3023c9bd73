import { inverse, mapPoint, type StepInput, samplingCost } from '@gephyra/core';
import { useState } from 'react';
import type { Triple } from '../../engine/types.ts';
import { useProject } from '../../project/project.tsx';
import { useSelection, useWorkspace } from '../../project/selection.tsx';
import type { Marker } from '../../project/shown.ts';
import { Button } from '../../ui/button.tsx';
import { Choice } from '../../ui/choice.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Part } from '../../ui/panels.tsx';
import { tidy } from './steps.ts';

interface Drain {
  readonly at: Triple;
  readonly diameter: number;
}

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
            <NumberField label="Gap on each side" value={gap} min={0} max={20} step={0.05} onCommit={setGap} />
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
              min={1e-4}
              max={100}
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
              min={4}
              max={1e8}
              onCommit={setTriangles}
            />
            <Button onClick={() => preview({ kind: 'simplify', triangles, ...on })}>By count</Button>
          </div>
        </div>
      </Part>
      <WallPart onShow={onShow} />
    </>
  );
}

/** A wall for a skin, or a hollow for a solid, with open faces and drain holes. */
function WallPart({ onShow }: { onShow(markers: readonly Marker[], focus: Marker | null): void }) {
  const { view, preview } = useProject();
  const { setPicker } = useWorkspace();
  const [{ body }] = useSelection();
  const [thickness, setThickness] = useState(3);
  const [side, setSide] = useState<'inward' | 'outward' | 'both'>('inward');
  const [cell, setCell] = useState(1);
  const [open, setOpen] = useState<readonly Triple[]>([]);
  const [drains, setDrains] = useState<readonly Drain[]>([]);
  const [diameter, setDiameter] = useState(6);
  if (!view) return null;
  const back = inverse(view.map);
  const on = body ? { on: [body] } : {};
  const show = (faces: readonly Triple[], holes: readonly Drain[]): void =>
    onShow(
      [
        ...faces.map((at) => ({ at, radius: 0, text: 'open' })),
        ...holes.map((d) => ({ at: d.at, radius: d.diameter / 2, text: 'drain' })),
      ],
      null,
    );
  const pickOpen = (): void =>
    setPicker({
      prompt: 'Pick a flat face that stays open.',
      onPlace: ({ at }) => {
        setPicker(null);
        setOpen([...open, at]);
        show([...open, at], drains);
      },
    });
  const pickDrain = (): void =>
    setPicker({
      prompt: 'Pick where a drain hole goes.',
      onPlace: ({ at }) => {
        setPicker(null);
        setDrains([...drains, { at, diameter }]);
        show(open, [...drains, { at, diameter }]);
      },
    });
  const hollow: StepInput = {
    kind: 'hollow',
    thickness,
    cell,
    open: open.map((p) => tidy(mapPoint(back, p))),
    drains: drains.map((d) => ({ at: tidy(mapPoint(back, d.at)), diameter: d.diameter })),
    ...on,
  };
  // by the boxes: the surface itself is known to the worker only
  const skin = view.bodies
    .filter((b) => !body || b.id === body)
    .reduce((sum, b) => {
      const [x, y, z] = b.box.max.map((m, a) => m - b.box.min[a]);
      return sum + 2 * (x * y + y * z + z * x);
    }, 0);
  const cost = samplingCost(skin, cell);
  return (
    <Part title="Wall and hollow" note={body ? 'the selected body' : 'all bodies'}>
      <div className="flex flex-col gap-2">
        <div className="grid grid-cols-2 gap-2">
          <NumberField
            label="Wall thickness"
            value={thickness}
            min={0.1}
            max={200}
            step={0.5}
            onCommit={(x) => {
              setThickness(x);
              setCell(Number((x / 3).toFixed(3)));
            }}
          />
          <NumberField label="Cell" value={cell} digits={3} min={0.02} max={50} step={0.1} onCommit={setCell} />
        </div>
        <p className="text-ink-soft text-sm">
          At most about <span className="num">{(cost.cells / 1e6).toFixed(2)}</span> million cells and{' '}
          <span className="num">{Math.ceil(cost.bytes / 2 ** 20).toLocaleString('en')}</span> MiB while it works. Edges
          and rims stay sharp; what is finer than a cell may go.
        </p>
        <Choice
          label="Side of the wall"
          value={side}
          options={[
            { value: 'inward', label: 'inward' },
            { value: 'outward', label: 'outward' },
            { value: 'both', label: 'both' },
          ]}
          onChange={(x) => setSide(x)}
        />
        <Button onClick={() => preview({ kind: 'wall', thickness, side, cell, ...on })}>Give the skin a wall</Button>
        <div className="mt-1 flex items-end gap-2 border-rule border-t pt-2">
          <Button onClick={pickOpen}>Leave a face open</Button>
          <span className="num text-ink-soft text-sm">{open.length} picked</span>
        </div>
        <div className="flex items-end gap-2">
          <NumberField label="Drain diameter" value={diameter} min={0.5} max={200} onCommit={setDiameter} />
          <Button onClick={pickDrain}>Add a drain</Button>
          <span className="num text-ink-soft text-sm">{drains.length}</span>
        </div>
        {(open.length > 0 || drains.length > 0) && (
          <Button
            look="quiet"
            onClick={() => {
              setOpen([]);
              setDrains([]);
              onShow([], null);
            }}
          >
            Forget the picked places
          </Button>
        )}
        <Button onClick={() => preview(hollow)}>Hollow the solid</Button>
      </div>
    </Part>
  );
}

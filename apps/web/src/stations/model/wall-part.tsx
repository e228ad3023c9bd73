import { inverse, mapPoint, type StepInput, samplingCost, stepSchemaOf, unevenPlace } from '@gephyra/core/plan';
import { useState } from 'react';
import type { Triple } from '../../engine/types.ts';
import { useProject } from '../../project/project.tsx';
import { useSelection, useWorkspace } from '../../project/selection.tsx';
import type { Marker } from '../../project/shown.ts';
import { bounded } from '../../ui/bounded.ts';
import { Button } from '../../ui/button.tsx';
import { Choice } from '../../ui/choice.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Part } from '../../ui/panels.tsx';
import { Pick } from '../../ui/pick.tsx';
import { Preview } from './preview.tsx';
import { tidy } from './steps.ts';

const WALL = ['wall'] as const;
const HOLLOW = ['hollow'] as const;

/** What a wall is set by, with its bounds. */
const ASKED = stepSchemaOf('wall').shape;

interface Drain {
  readonly at: Triple;
  readonly diameter: number;
}

interface ThickPlace {
  readonly at: Triple;
  readonly radius: number;
  readonly thickness: number;
}

/** Towards which end of the model a wall changes, in the source's coordinates. */
const ENDS = {
  same: null,
  top: [0, 0, 1],
  bottom: [0, 0, -1],
  front: [0, -1, 0],
  back: [0, 1, 0],
  left: [-1, 0, 0],
  right: [1, 0, 0],
} satisfies Record<string, Triple | null>;
type End = keyof typeof ENDS;

/** A wall for a skin, or a hollow for a solid, with open faces and drain holes; of one thickness, tapering, or thicker in places. */
export function WallPart({ onShow }: { onShow(markers: readonly Marker[], focus: Marker | null): void }) {
  const { view, preview } = useProject();
  const { setPicker } = useWorkspace();
  const [{ body }] = useSelection();
  const [thickness, setThickness] = useState(3);
  const [side, setSide] = useState<'inward' | 'outward' | 'both'>('inward');
  const [cell, setCell] = useState(1);
  const [open, setOpen] = useState<readonly Triple[]>([]);
  const [drains, setDrains] = useState<readonly Drain[]>([]);
  const [diameter, setDiameter] = useState(6);
  const [towards, setTowards] = useState<End>('same');
  const [atEnd, setAtEnd] = useState(2);
  const [places, setPlaces] = useState<readonly ThickPlace[]>([]);
  const [there, setThere] = useState({ radius: 20, thickness: 5 });
  if (!view) return null;
  const back = inverse(view.map);
  const on = body ? { on: [body] } : {};
  const show = (now: { open?: readonly Triple[]; drains?: readonly Drain[]; places?: readonly ThickPlace[] }): void =>
    onShow(
      [
        ...(now.open ?? open).map((at) => ({ at, radius: 0, text: 'open' })),
        ...(now.drains ?? drains).map((d) => ({ at: d.at, radius: d.diameter / 2, text: 'drain' })),
        ...(now.places ?? places).map((p) => ({ at: p.at, radius: p.radius, text: `${p.thickness} mm` })),
      ],
      null,
    );
  const pick = (prompt: string, taken: (at: Triple) => void): void =>
    setPicker({
      prompt,
      onPlace: ({ at }) => {
        setPicker(null);
        taken(at);
      },
    });
  const pickOpen = (): void =>
    pick('Pick a flat face that stays open.', (at) => {
      setOpen([...open, at]);
      show({ open: [...open, at] });
    });
  const pickDrain = (): void =>
    pick('Pick where a drain hole goes.', (at) => {
      setDrains([...drains, { at, diameter }]);
      show({ drains: [...drains, { at, diameter }] });
    });
  const pickPlace = (): void =>
    pick(`Pick where the wall is ${there.thickness} mm thick.`, (at) => {
      setPlaces([...places, { at, ...there }]);
      show({ places: [...places, { at, ...there }] });
    });
  const source = (at: Triple) => tidy(mapPoint(back, at));
  const along = ENDS[towards];
  const uneven = {
    ...(along && { taper: { along, thickness: atEnd } }),
    places: places.map((p) => ({ ...p, at: source(p.at) })),
  };
  const hollow: StepInput = {
    kind: 'hollow',
    thickness,
    cell,
    ...uneven,
    open: open.map(source),
    drains: drains.map((d) => ({ ...d, at: source(d.at) })),
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
            {...bounded(ASKED.thickness)}
            step={0.5}
            onCommit={(x) => {
              setThickness(x);
              setCell(Number((x / 3).toFixed(3)));
            }}
          />
          <NumberField label="Cell" value={cell} digits={3} {...bounded(ASKED.cell)} step={0.1} onCommit={setCell} />
        </div>
        <p className="text-ink-soft text-sm">
          At most about <span className="num">{(cost.cells / 1e6).toFixed(2)}</span> million cells and{' '}
          <span className="num">{Math.ceil(cost.bytes / 2 ** 20).toLocaleString('en')}</span> MiB while it works. Edges
          and rims stay sharp; what is finer than a cell may go.
        </p>
        <div className="grid grid-cols-2 gap-2">
          <Pick
            label="It changes towards"
            value={towards}
            options={[
              { value: 'same', label: 'nowhere' },
              { value: 'top', label: 'the top' },
              { value: 'bottom', label: 'the bottom' },
              { value: 'front', label: 'the front' },
              { value: 'back', label: 'the back' },
              { value: 'left', label: 'the left' },
              { value: 'right', label: 'the right' },
            ]}
            onChange={(next) => setTowards(next as End)}
          />
          {along && (
            <NumberField
              label="Thickness there"
              value={atEnd}
              {...bounded(ASKED.thickness)}
              step={0.5}
              onCommit={setAtEnd}
            />
          )}
        </div>
        <div className="grid grid-cols-2 gap-2">
          <NumberField
            label="Marked places, radius"
            value={there.radius}
            {...bounded(unevenPlace.shape.radius)}
            step={5}
            onCommit={(radius) => setThere({ ...there, radius })}
          />
          <NumberField
            label="Their thickness"
            value={there.thickness}
            {...bounded(unevenPlace.shape.thickness)}
            step={0.5}
            onCommit={(x) => setThere({ ...there, thickness: x })}
          />
        </div>
        <div className="flex items-end gap-2">
          <Button onClick={pickPlace}>Mark a place</Button>
          <span className="num text-ink-soft text-sm">{places.length} marked</span>
        </div>
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
        <Button onClick={() => preview({ kind: 'wall', thickness, side, cell, ...uneven, ...on })}>
          Give the skin a wall
        </Button>
        <Preview of={WALL} />
        <div className="mt-1 flex items-end gap-2 border-rule border-t pt-2">
          <Button onClick={pickOpen}>Leave a face open</Button>
          <span className="num text-ink-soft text-sm">{open.length} picked</span>
        </div>
        <div className="flex items-end gap-2">
          <NumberField
            label="Drain diameter"
            value={diameter}
            {...bounded(stepSchemaOf('hollow').shape.drains.unwrap().element.shape.diameter)}
            onCommit={setDiameter}
          />
          <Button onClick={pickDrain}>Add a drain</Button>
          <span className="num text-ink-soft text-sm">{drains.length}</span>
        </div>
        {open.length + drains.length + places.length > 0 && (
          <Button
            look="quiet"
            onClick={() => {
              setOpen([]);
              setDrains([]);
              setPlaces([]);
              onShow([], null);
            }}
          >
            Forget the picked places
          </Button>
        )}
        <Button onClick={() => preview(hollow)}>Hollow the solid</Button>
        <Preview of={HOLLOW} />
      </div>
    </Part>
  );
}

import { inverse, mapPoint, perAxis, radians, stepSchemaOf } from '@gephyra/core/plan';
import { useState } from 'react';
import type { Triple } from '../../engine/types.ts';
import { useProject } from '../../project/project.tsx';
import { useSelection, useWorkspace } from '../../project/selection.tsx';
import type { Marker, Shown } from '../../project/shown.ts';
import { bounded } from '../../ui/bounded.ts';
import { Button } from '../../ui/button.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Part } from '../../ui/panels.tsx';
import { Tick } from '../../ui/tick.tsx';
import { Preview } from './preview.tsx';
import { tidy } from './steps.ts';

const BORE = ['bore'] as const;

/** What a bore is set by, with its bounds. */
const ASKED = stepSchemaOf('bore').shape;

interface Sink {
  readonly diameter: number;
  readonly depth: number;
}

/** Width in mm, turn in degrees. */
interface Slot {
  readonly width: number;
  readonly turn: number;
}

const AXES = ['x', 'y', 'z'] as const;

/** A hole along a route for what runs through it: straight through from a picked place, or from place to place. */
export function BorePanel({ onShow }: { onShow(markers: readonly Marker[], path: Shown['path']): void }) {
  const { view, engine, preview } = useProject();
  const { setPicker } = useWorkspace();
  const [{ body }] = useSelection();
  // on the model
  const [places, setPlaces] = useState<readonly Triple[]>([]);
  const [diameter, setDiameter] = useState(8);
  const [gap, setGap] = useState(0.2);
  const [bend, setBend] = useState(12);
  const [mouth, setMouth] = useState(0.5);
  const [deep, setDeep] = useState(20);
  const [blind, setBlind] = useState(false);
  const [stock, setStock] = useState('');
  const [sink, setSink] = useState<Sink | null>(null);
  const [slot, setSlot] = useState<Slot | null>(null);
  if (!view) return null;
  const show = (next: readonly Triple[]): void => {
    setPlaces(next);
    onShow(
      next.map((at, i) => ({ at, radius: diameter / 2, text: String(i + 1) })),
      next.length > 1 ? { places: next, text: `⌀ ${diameter}` } : null,
    );
  };
  const straight = (): void =>
    setPicker({
      prompt: 'Pick where the bore enters.',
      onPlace: ({ at, normal }) => {
        setPicker(null);
        engine?.through(at, normal).then(
          (end) => show(end ? [at, end] : [at]),
          () => {},
        );
      },
    });
  /** Places one after another; those between the first and the last lie below the skin. */
  const route = (soFar: readonly { at: Triple; normal: Triple }[]): void =>
    setPicker({
      prompt: `Pick place ${soFar.length + 1} of the route${soFar.length > 1 ? '; Stop ends it' : ''}.`,
      onPlace: ({ at, normal }) => {
        const picked = [...soFar, { at, normal }];
        show(
          picked.map((p, i) =>
            i === 0 || i === picked.length - 1 ? p.at : perAxis(p.at, (x, a) => x - deep * p.normal[a]),
          ),
        );
        route(picked);
      },
    });
  const middle = perAxis(view.box.min, (x, a) => (x + view.box.max[a]) / 2);
  const back = inverse(view.map);
  const look = (): void =>
    preview({
      kind: 'bore',
      points: places.map((p) => tidy(mapPoint(back, p))),
      diameter,
      gap,
      bend,
      mouth,
      blind,
      ...(sink && { sink }),
      ...(slot && { slot: { width: slot.width, turn: radians(slot.turn) } }),
      ...(stock.trim() && { stock: stock.trim() }),
      ...(body && { on: [body] }),
    });
  return (
    <Part title="Bore" note={body ? 'the selected body' : 'all bodies'}>
      <div className="flex flex-col gap-2">
        <label className="block">
          <span className="mb-0.5 block text-ink-soft text-sm">What runs through it</span>
          <input
            className="h-7 w-full rounded border border-rule-strong bg-sheet px-2"
            value={stock}
            maxLength={80}
            placeholder="brass tube, strap, wire, light"
            onChange={(e) => setStock(e.target.value)}
          />
        </label>
        <div className="grid grid-cols-2 gap-2">
          <NumberField label="Its diameter" value={diameter} {...bounded(ASKED.diameter)} onCommit={setDiameter} />
          <NumberField label="Gap round it" value={gap} {...bounded(ASKED.gap)} step={0.05} onCommit={setGap} />
          <NumberField label="Bends, radius" value={bend} {...bounded(ASKED.bend)} onCommit={setBend} />
          <NumberField label="Mouths widened" value={mouth} {...bounded(ASKED.mouth)} step={0.5} onCommit={setMouth} />
        </div>
        <div className="flex flex-wrap gap-2">
          <Button onClick={straight}>Straight through</Button>
          <Button onClick={() => route([])}>From place to place</Button>
          <Button look="quiet" onClick={() => show([...places, middle])}>
            Add a place
          </Button>
        </div>
        <NumberField label="Corners lie below the skin" value={deep} min={0} max={2000} onCommit={setDeep} />
        {places.length > 0 && (
          <ol aria-label="Places of the bore" className="flex flex-col gap-1.5">
            {places.map((place, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: places are known by their order
              <li key={i} className="grid grid-cols-[1fr_1fr_1fr_auto] items-end gap-1">
                {AXES.map((axis, a) => (
                  <NumberField
                    key={axis}
                    label={`${i + 1} ${axis}`}
                    unit=""
                    value={place[a]}
                    onCommit={(x) =>
                      show(places.map((p, k) => (k === i ? perAxis(p, (old, c) => (c === a ? x : old)) : p)))
                    }
                  />
                ))}
                <Button
                  className="h-7"
                  aria-label={`Take place ${i + 1} out`}
                  onClick={() => show(places.filter((_, k) => k !== i))}
                >
                  ×
                </Button>
              </li>
            ))}
          </ol>
        )}
        <Tick
          tone="ink"
          checked={sink !== null}
          onChange={(on) => setSink(on ? { diameter: 2 * diameter, depth: diameter / 2 } : null)}
        >
          ends sunk for a head or a collar
        </Tick>
        {sink && (
          <div className="grid grid-cols-2 gap-2">
            <NumberField
              label="Sunk, diameter"
              value={sink.diameter}
              {...bounded(ASKED.sink.unwrap().shape.diameter)}
              onCommit={(x) => setSink({ ...sink, diameter: x })}
            />
            <NumberField
              label="Sunk, depth"
              value={sink.depth}
              {...bounded(ASKED.sink.unwrap().shape.depth)}
              onCommit={(x) => setSink({ ...sink, depth: x })}
            />
          </div>
        )}
        <Tick
          tone="ink"
          checked={slot !== null}
          onChange={(on) => setSlot(on ? { width: Math.max(20, 3 * diameter), turn: 0 } : null)}
        >
          a slot for a strap, as thick as its diameter
        </Tick>
        {slot && (
          <div className="grid grid-cols-2 gap-2">
            <NumberField
              label="Strap, width"
              value={slot.width}
              {...bounded(ASKED.slot.unwrap().shape.width)}
              onCommit={(x) => setSlot({ ...slot, width: x })}
            />
            <NumberField
              label="Turned by"
              unit="°"
              value={slot.turn}
              min={-180}
              max={180}
              step={15}
              onCommit={(x) => setSlot({ ...slot, turn: x })}
            />
          </div>
        )}
        <Tick tone="ink" checked={blind} onChange={setBlind}>
          ends at its last place instead of going through
        </Tick>
        <Button disabled={places.length < 2} onClick={look}>
          Bore it
        </Button>
        <Preview of={BORE} />
      </div>
    </Part>
  );
}

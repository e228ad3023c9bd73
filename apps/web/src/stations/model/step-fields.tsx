import { type Step, type StepOf, stepTitle, usualBend } from '@gephyra/core';
import { Trash2 } from 'lucide-react';
import { useProject } from '../../project/project.tsx';
import { Button } from '../../ui/button.tsx';
import { Choice } from '../../ui/choice.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Tick } from '../../ui/tick.tsx';
import { AXIS_WORDS } from './steps.ts';

type Give = (next: Record<string, unknown>) => void;

/** Steps whose numbers stand beside each other. */
const BESIDE: ReadonlySet<Step['kind']> = new Set(['tailor', 'bring', 'bore', 'inlay']);

/** A number of a step, which is kept under a name. */
interface Field {
  readonly label: string;
  readonly name: string;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly unit?: string;
}

/** The numbers of a step, to be changed where it stands in the recipe. */
export function StepFields({ step }: { step: Step & { id: string } }) {
  const { change } = useProject();
  const set: Give = (next) => change(`Change ${stepTitle(step)}`, { do: 'setStep', id: step.id, set: next });
  const fields = fieldsOf(step).map(({ label, name, value, min, max, unit = 'mm' }) => (
    <NumberField
      key={name}
      label={label}
      value={value}
      unit={unit}
      digits={4}
      min={min}
      max={max}
      onCommit={(x) => set({ [name]: x })}
    />
  ));
  const more = <More step={step} set={set} />;
  return (
    <div className={BESIDE.has(step.kind) ? 'grid grid-cols-2 gap-2' : 'flex flex-col gap-2'}>
      {fields}
      {more}
    </div>
  );
}

/** The plain numbers of a step. */
function fieldsOf(step: Step): readonly Field[] {
  const field = (label: string, name: string, value: number, min: number, max: number, unit?: string): Field => ({
    label,
    name,
    value,
    min,
    max,
    ...(unit !== undefined && { unit }),
  });
  switch (step.kind) {
    case 'scale':
      if (step.factor !== undefined) return [field('Factor', 'factor', step.factor, 1e-6, 1e6, '×')];
      return step.size === undefined
        ? []
        : [field(`Wanted ${AXIS_WORDS[step.axis ?? 'z']}`, 'size', step.size, 1e-3, 1e5)];
    case 'tailor':
      return [field('Wearer', 'wanted', step.wanted, 1, 10_000), field('Room', 'room', step.room, -500, 500)];
    case 'bring':
      return [field('Left between', 'gap', step.gap, 0, 100)];
    case 'weld':
      return [field('Weld within', 'tolerance', step.tolerance, 1e-6, 10)];
    case 'drop':
      return [field('Dust under', 'dust', step.dust, 0, 1000)];
    case 'takeOut':
      return [field('Gap on each side', 'gap', step.gap, 0, 20)];
    case 'simplify':
      return [
        step.triangles === undefined
          ? field('Deviation', 'deviation', step.deviation ?? 0.05, 1e-4, 100)
          : field('Triangles', 'triangles', step.triangles, 4, 1e8, ''),
      ];
    case 'wall':
      return [field('Thickness', 'thickness', step.thickness, 0.1, 200)];
    case 'hollow':
      return [field('Wall', 'thickness', step.thickness, 0.1, 200)];
    case 'bore':
      return [
        field('Diameter', 'diameter', step.diameter, 0.3, 500),
        field('Gap round it', 'gap', step.gap, 0, 20),
        field('Bends, radius', 'bend', step.bend ?? usualBend(step.diameter), 0, 5000),
        field('Mouths widened', 'mouth', step.mouth, 0, 100),
      ];
    case 'inlay':
      return [field('Depth', 'depth', step.depth, 0.4, 100), field('Gap round it', 'gap', step.gap, 0, 5)];
    default:
      return [];
  }
}

/** What a step has besides its plain numbers. */
function More({ step, set }: { step: Step; set: Give }) {
  const angle = (label: string, name: string, radians: number) => (
    <NumberField
      label={label}
      unit="°"
      step={5}
      value={(radians * 180) / Math.PI}
      onCommit={(x) => set({ [name]: (x * Math.PI) / 180 })}
    />
  );
  switch (step.kind) {
    case 'scale':
      return step.factor === undefined && step.size === undefined ? <Factors step={step} set={set} /> : null;
    case 'turn':
      return angle(`Angle about ${step.axis}`, 'angle', step.angle);
    case 'bring':
      return angle('Turned by', 'turn', step.turn);
    case 'close':
      return (
        <>
          <Choice
            label="Patch"
            value={step.patch}
            options={[
              { value: 'curved', label: 'curved' },
              { value: 'flat', label: 'flat' },
            ]}
            onChange={(patch) => set({ patch })}
          />
          <Tick tone="ink" checked={step.openings} onChange={(openings) => set({ openings })}>
            also openings that are plainly meant
          </Tick>
        </>
      );
    case 'wall':
      return (
        <>
          <Elsewhere step={step} set={set} />
          <Choice
            label="Side"
            value={step.side}
            options={[
              { value: 'inward', label: 'inward' },
              { value: 'outward', label: 'outward' },
              { value: 'both', label: 'both' },
            ]}
            onChange={(side) => set({ side })}
          />
        </>
      );
    case 'hollow':
      return <Elsewhere step={step} set={set} />;
    case 'bore':
      return <Ends step={step} set={set} />;
    default:
      return null;
  }
}

/** A factor for each axis. */
function Factors({ step, set }: { step: StepOf<'scale'>; set: Give }) {
  const factors = step.factors ?? [1, 1, 1];
  return (
    <div className="grid grid-cols-3 gap-1">
      {factors.map((f, a) => (
        <NumberField
          key={'xyz'[a]}
          label={`Factor ${'xyz'[a]}`}
          unit="×"
          value={f}
          digits={4}
          min={1e-6}
          max={1e6}
          onCommit={(x) => set({ factors: factors.map((old, b) => (b === a ? x : old)) })}
        />
      ))}
    </div>
  );
}

/** What a bore has at its ends, and its width where it is a slot. */
function Ends({ step: { sink, slot }, set }: { step: StepOf<'bore'>; set: Give }) {
  return (
    <>
      {sink && (
        <>
          <NumberField
            label="Sunk, diameter"
            value={sink.diameter}
            min={0.5}
            max={500}
            onCommit={(x) => set({ sink: { ...sink, diameter: x } })}
          />
          <NumberField
            label="Sunk, depth"
            value={sink.depth}
            min={0.1}
            max={500}
            onCommit={(x) => set({ sink: { ...sink, depth: x } })}
          />
        </>
      )}
      {slot && (
        <NumberField
          label="Strap, width"
          value={slot.width}
          min={0.5}
          max={500}
          onCommit={(x) => set({ slot: { ...slot, width: x } })}
        />
      )}
    </>
  );
}

interface ElsewhereProps {
  readonly step: StepOf<'wall' | 'hollow'>;
  readonly set: Give;
}

/** Where a wall is not as thick as said: at its far end, and round marked places. */
function Elsewhere({ step: { taper, places }, set }: ElsewhereProps) {
  const number = (label: string, value: number, min: number, max: number, onCommit: (x: number) => void) => (
    <NumberField label={label} value={value} min={min} max={max} step={0.5} onCommit={onCommit} />
  );
  const change = (i: number, next: Partial<(typeof places)[number]>) =>
    set({ places: places.map((p, k) => (k === i ? { ...p, ...next } : p)) });
  return (
    <>
      {taper && number('At its far end', taper.thickness, 0.1, 200, (x) => set({ taper: { ...taper, thickness: x } }))}
      {places.map((place, i) => (
        <div key={place.at.join()} className="grid grid-cols-[1fr_1fr_auto] items-end gap-2">
          {number(`Place ${i + 1}, wall`, place.thickness, 0.1, 200, (x) => change(i, { thickness: x }))}
          {number(`Place ${i + 1}, radius`, place.radius, 0.5, 1000, (x) => change(i, { radius: x }))}
          <Button
            look="quiet"
            aria-label={`Unmark place ${i + 1}`}
            onClick={() => set({ places: places.filter((_, k) => k !== i) })}
          >
            <Trash2 aria-hidden size={16} />
          </Button>
        </div>
      ))}
    </>
  );
}

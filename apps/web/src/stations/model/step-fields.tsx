import { type Step, type StepOf, stepTitle, usualBend } from '@gephyra/core';
import { Trash2 } from 'lucide-react';
import { useProject } from '../../project/project.tsx';
import { Button } from '../../ui/button.tsx';
import { Choice } from '../../ui/choice.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Tick } from '../../ui/tick.tsx';
import { AXIS_WORDS } from './steps.ts';

/** The numbers of a step, to be changed where it stands in the recipe. */
export function StepFields({ step }: { step: Step & { id: string } }) {
  const { change } = useProject();
  const set = (next: Record<string, unknown>) =>
    change(`Change ${stepTitle(step)}`, { do: 'setStep', id: step.id, set: next });
  const field = (label: string, value: number, name: string, unit = 'mm', min = 0, max = 1e6) => (
    <NumberField
      label={label}
      value={value}
      unit={unit}
      digits={4}
      min={min}
      max={max}
      onCommit={(x) => set({ [name]: x })}
    />
  );
  switch (step.kind) {
    case 'scale':
      if (step.factor !== undefined) return field('Factor', step.factor, 'factor', '×', 1e-6, 1e6);
      if (step.size !== undefined)
        return field(`Wanted ${AXIS_WORDS[step.axis ?? 'z']}`, step.size, 'size', 'mm', 1e-3, 1e5);
      return (
        <div className="grid grid-cols-3 gap-1">
          {(step.factors ?? [1, 1, 1]).map((f, a) => (
            <NumberField
              key={'xyz'[a]}
              label={`Factor ${'xyz'[a]}`}
              unit="×"
              value={f}
              digits={4}
              min={1e-6}
              max={1e6}
              onCommit={(x) => set({ factors: (step.factors ?? [1, 1, 1]).map((old, b) => (b === a ? x : old)) })}
            />
          ))}
        </div>
      );
    case 'tailor':
      return (
        <div className="grid grid-cols-2 gap-2">
          {field('Wearer', step.wanted, 'wanted', 'mm', 1, 10_000)}
          {field('Room', step.room, 'room', 'mm', -500, 500)}
        </div>
      );
    case 'turn':
      return (
        <NumberField
          label={`Angle about ${step.axis}`}
          unit="°"
          step={5}
          value={(step.angle * 180) / Math.PI}
          onCommit={(x) => set({ angle: (x * Math.PI) / 180 })}
        />
      );
    case 'bring':
      return (
        <div className="grid grid-cols-2 gap-2">
          {field('Left between', step.gap, 'gap', 'mm', 0, 100)}
          <NumberField
            label="Turned by"
            unit="°"
            step={5}
            value={(step.turn * 180) / Math.PI}
            onCommit={(x) => set({ turn: (x * Math.PI) / 180 })}
          />
        </div>
      );
    case 'close':
      return (
        <div className="flex flex-col gap-2">
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
        </div>
      );
    case 'weld':
      return field('Weld within', step.tolerance, 'tolerance', 'mm', 1e-6, 10);
    case 'drop':
      return field('Dust under', step.dust, 'dust', 'mm', 0, 1000);
    case 'takeOut':
      return field('Gap on each side', step.gap, 'gap', 'mm', 0, 20);
    case 'simplify':
      return step.triangles === undefined
        ? field('Deviation', step.deviation ?? 0.05, 'deviation', 'mm', 1e-4, 100)
        : field('Triangles', step.triangles, 'triangles', '', 4, 1e8);
    case 'wall':
      return (
        <div className="flex flex-col gap-2">
          {field('Thickness', step.thickness, 'thickness', 'mm', 0.1, 200)}
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
        </div>
      );
    case 'bore':
      return (
        <div className="grid grid-cols-2 gap-2">
          {field('Diameter', step.diameter, 'diameter', 'mm', 0.3, 500)}
          {field('Gap round it', step.gap, 'gap', 'mm', 0, 20)}
          {field('Bends, radius', step.bend ?? usualBend(step.diameter), 'bend', 'mm', 0, 5000)}
          {field('Mouths widened', step.mouth, 'mouth', 'mm', 0, 100)}
          {step.sink && (
            <>
              <NumberField
                label="Sunk, diameter"
                value={step.sink.diameter}
                min={0.5}
                max={500}
                onCommit={(x) => set({ sink: { ...step.sink, diameter: x } })}
              />
              <NumberField
                label="Sunk, depth"
                value={step.sink.depth}
                min={0.1}
                max={500}
                onCommit={(x) => set({ sink: { ...step.sink, depth: x } })}
              />
            </>
          )}
          {step.slot && (
            <NumberField
              label="Strap, width"
              value={step.slot.width}
              min={0.5}
              max={500}
              onCommit={(x) => set({ slot: { ...step.slot, width: x } })}
            />
          )}
        </div>
      );
    case 'inlay':
      return (
        <div className="grid grid-cols-2 gap-2">
          {field('Depth', step.depth, 'depth', 'mm', 0.4, 100)}
          {field('Gap round it', step.gap, 'gap', 'mm', 0, 5)}
        </div>
      );
    case 'hollow':
      return (
        <div className="flex flex-col gap-2">
          {field('Wall', step.thickness, 'thickness', 'mm', 0.1, 200)}
          <Elsewhere step={step} set={set} />
        </div>
      );
    default:
      return null;
  }
}

interface ElsewhereProps {
  readonly step: StepOf<'wall' | 'hollow'>;
  set(next: Record<string, unknown>): void;
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

import { type StepInput, sizeOf, stepSchemaOf, uniformScale, withIds } from '@gephyra/core/plan';
import { useState } from 'react';
import { useProject } from '../../project/project.tsx';
import { bounded } from '../../ui/bounded.ts';
import { Button } from '../../ui/button.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Tick } from '../../ui/tick.tsx';

const AXES = ['x', 'y', 'z'] as const;
const UNITS = [
  ['mm', 1],
  ['cm', 10],
  ['in', 25.4],
  ['m', 1000],
] as const;

/** Below and above this the unit of a file is in doubt, mm. */
const SMALL = 5;
const LARGE = 5000;

/** Size by axis or by factor, with the axes locked together or free. */
export function SizeFields() {
  const { plan, view, change } = useProject();
  const [locked, setLocked] = useState(true);
  if (!view) return null;
  const { recipe } = withIds(plan);
  const at = recipe.findLastIndex((s) => s.kind === 'scale');
  const own = at >= 0 ? recipe[at] : null;
  const size = sizeOf(view.box);
  /** A new size takes the place of the one before, so that the recipe does not fill up with them. */
  const set = (label: string, step: StepInput): void => {
    if (own) change(label, { do: 'removeStep', id: own.id }, { do: 'addStep', step: { ...step, id: own.id }, at });
    else change(label, { do: 'addStep', step });
  };
  const total = uniformScale(view.map);
  const factors = own?.kind === 'scale' && own.enabled ? (own.factors ?? null) : null;
  const setAxis = (a: number, wanted: number): void => {
    const label = `Size ${AXES[a]} ${Number(wanted.toFixed(3))} mm`;
    if (locked && !factors) {
      set(label, { kind: 'scale', axis: AXES[a], size: wanted });
      return;
    }
    const ratio = wanted / size[a];
    const scaleNow = own?.kind === 'scale' && own.enabled ? scaleBefore() : 1;
    const before = factors ?? [scaleNow, scaleNow, scaleNow];
    const next = before.map((f, b) => (locked || a === b ? f * ratio : f)) as [number, number, number];
    set(label, { kind: 'scale', factors: next });
  };
  /** What the scale step that stands multiplies by. */
  const scaleBefore = (): number => {
    const others = recipe.filter(
      (s) => s.enabled && s !== own && (s.kind === 'unit' || s.kind === 'tailor' || s.kind === 'scale'),
    );
    if (own?.kind === 'scale' && own.factor !== undefined) return own.factor;
    return others.length === 0 ? (total ?? 1) : 1;
  };
  return (
    <>
      <div className="mb-2 grid grid-cols-3 gap-2">
        {AXES.map((axis, a) => (
          <NumberField
            key={axis}
            label={['Width', 'Depth', 'Height'][a]}
            value={size[a]}
            digits={1}
            {...bounded(stepSchemaOf('scale').shape.size)}
            onCommit={(x) => setAxis(a, x)}
          />
        ))}
      </div>
      <div className="flex items-end gap-2">
        <NumberField
          label="Factor"
          unit="×"
          value={own?.kind === 'scale' && own.factor !== undefined ? own.factor : (total ?? 1)}
          digits={4}
          step={0.01}
          {...bounded(stepSchemaOf('scale').shape.factor)}
          onCommit={(factor) => set(`Scale by ${factor}`, { kind: 'scale', factor })}
        />
        <Button
          look="quiet"
          className="px-1 text-lapis underline underline-offset-2"
          disabled={!recipe.some((s) => s.kind === 'scale' || s.kind === 'tailor')}
          onClick={() =>
            change('Size as in the file', (now) => ({
              do: 'set',
              set: { recipe: now.recipe.filter((s) => s.kind !== 'scale' && s.kind !== 'tailor') },
            }))
          }
        >
          as in the file
        </Button>
      </div>
      <Tick tone="ink" className="mt-2" checked={locked} onChange={setLocked}>
        All axes scale together
      </Tick>
      <p className="mt-1 text-ink-soft text-sm">Pins, gaps and walls keep their millimetres.</p>
    </>
  );
}

/** Asks for the unit of a file that names none and would be implausibly small or large in millimetres. */
export function UnitQuestion() {
  const { plan, model, view, change } = useProject();
  if (!model || !view) return null;
  const { recipe } = withIds(plan);
  const known = recipe.find((s) => s.kind === 'unit');
  const longest = Math.max(...sizeOf(view.box));
  const doubtful = model.unit === null && !known && recipe.length === 0 && (longest < SMALL || longest > LARGE);
  if (known) {
    return (
      <p className="mb-2 text-sm">
        The file’s numbers are taken as <strong>{known.kind === 'unit' ? known.unit : ''}</strong>.{' '}
        <button
          type="button"
          className="text-lapis underline underline-offset-2"
          onClick={() => change('Ask for the unit again', { do: 'removeStep', id: known.id })}
        >
          Not so
        </button>
      </p>
    );
  }
  if (!doubtful) return null;
  return (
    <fieldset className="mb-3 border-warn border-l-[3px] bg-warn-wash px-2.5 py-2">
      <legend className="sr-only">Unit of the file</legend>
      <p className="mb-1.5">
        <strong className="text-warn">What unit is this in? </strong>
        The file does not say, and {Number(longest.toPrecision(4))} mm is an unlikely size.
      </p>
      <div className="grid grid-cols-2 gap-1.5">
        {UNITS.map(([unit, factor]) => (
          <Button
            key={unit}
            className="!whitespace-normal h-auto min-h-[30px] py-1"
            onClick={() => change(`The file is in ${unit}`, { do: 'addStep', step: { kind: 'unit', unit }, at: 0 })}
          >
            {unit}: <span className="num">{Number((longest * factor).toPrecision(4)).toLocaleString('en')} mm</span>
          </Button>
        ))}
      </div>
    </fieldset>
  );
}

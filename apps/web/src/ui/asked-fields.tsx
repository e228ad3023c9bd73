import { type AskedField, degrees, type Fields, type Measure, radians } from '@gephyra/core/plan';
import { Trash2 } from 'lucide-react';
import { Button } from './button.tsx';
import { Choice } from './choice.tsx';
import { NumberField } from './number-field.tsx';
import { Pick } from './pick.tsx';
import { Tick } from './tick.tsx';

/** Sets fields of what is asked about, as one step of undo that is named. */
type SetFields = (says: string, next: Fields) => void;

/** The fields of a joint or a step, as its kind tells them. */
export function AskedFields({ fields, set }: { fields: readonly AskedField[]; set: SetFields }) {
  const alone = fields.length === 1;
  return (
    <div className="grid grid-cols-2 gap-2">
      {fields.map((field) => (
        <div key={field.label} className={alone || isWide(field) ? 'col-span-2' : 'flex min-w-0 items-end gap-1'}>
          <Field field={field} set={set} />
        </div>
      ))}
    </div>
  );
}

const isWide = (field: AskedField): boolean =>
  field.as === 'note' || field.as === 'tick' || (field.as === 'choice' && field.shown !== 'half');

function Field({ field, set }: { field: AskedField; set: SetFields }) {
  if (field.as === 'note') return <p className="text-ink-soft text-sm">{field.label}</p>;
  if (field.as === 'tick') {
    return (
      <Tick tone="ink" checked={field.value} onChange={(next) => set(field.says, field.set(next))}>
        {field.label}
      </Tick>
    );
  }
  if (field.as === 'choice') {
    const Input = field.shown === 'keys' ? Choice : Pick;
    const { label, says, value, options } = field;
    return <Input label={label} value={value} options={options} onChange={(next) => set(says, field.set(next))} />;
  }
  return <MeasureField field={field} set={set} />;
}

/** A number as it is shown: angles in degrees, shares in per cent, counts whole. */
export function MeasureField({ field, set }: { field: Measure; set: SetFields }) {
  const { as, label, says, value, least, most, step, unit, digits, away } = field;
  const [shown, kept] = SCALES[as] ?? [(x: number) => x, (x: number) => x];
  return (
    <>
      <NumberField
        label={label}
        unit={unit ?? UNITS[as]}
        value={shown(value)}
        min={shown(least)}
        max={shown(most)}
        step={step}
        {...(digits !== undefined && { digits })}
        onCommit={(x) => set(says, field.set(kept(x)))}
      />
      {away && (
        <Button
          look="quiet"
          className="shrink-0 px-1.5"
          aria-label={away.label}
          onClick={() => set(away.label, away.set)}
        >
          <Trash2 aria-hidden size={16} />
        </Button>
      )}
    </>
  );
}

const UNITS = { length: 'mm', angle: '°', share: '%', factor: '×', count: '', number: '' } as const;

/** Without what is left over of turning degrees into radians and back. */
const tidy = (x: number): number => Number(x.toFixed(6));

/** From how a number is kept to how it is shown, and back. */
const SCALES: {
  readonly [as in Measure['as']]?: readonly [shown: (x: number) => number, kept: (x: number) => number];
} = {
  angle: [(x) => tidy(degrees(x)), radians],
  share: [(x) => tidy(100 * x), (x) => x / 100],
  count: [(x) => x, Math.round],
};

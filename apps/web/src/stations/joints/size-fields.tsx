import { type Joint, type JointFields, kindOf, type SizeField } from '@gephyra/core';
import { Choice } from '../../ui/choice.tsx';
import { degrees, radians } from '../../ui/degrees.ts';
import { NumberField } from '../../ui/number-field.tsx';
import { Pick } from '../../ui/pick.tsx';

/** Sets fields of a joint as one step, named. */
type SetFields = (label: string, next: JointFields) => void;

/** The sizes of a joint, as its kind tells them. `codes`: the pieces on the − and + side. */
export function SizeFields({ joint, codes, set }: { joint: Joint; codes: readonly string[]; set: SetFields }) {
  return (
    <div className="grid grid-cols-2 gap-2">
      {kindOf(joint)
        .fields(joint, codes)
        .map((field) => (
          <div key={field.label} className={isWide(field) ? 'col-span-2' : 'flex min-w-0'}>
            <Field field={field} set={set} />
          </div>
        ))}
    </div>
  );
}

const isWide = (field: SizeField): boolean => field.as === 'note' || (field.as === 'choice' && field.shown !== 'half');

function Field({ field, set }: { field: SizeField; set: SetFields }) {
  if (field.as === 'note') return <p className="num text-[13px] text-ink-soft">{field.label}</p>;
  if (field.as === 'choice') {
    const Input = field.shown === 'keys' ? Choice : Pick;
    const { label, says, value, options } = field;
    return <Input label={label} value={value} options={options} onChange={(next) => set(says, field.set(next))} />;
  }
  const { label, says, value, least, most, step } = field;
  if (field.as === 'angle') {
    return (
      <NumberField
        label={label}
        unit="°"
        value={degrees(value)}
        min={tidy(degrees(least))}
        max={tidy(degrees(most))}
        step={step}
        onCommit={(x) => set(says, field.set(radians(x)))}
      />
    );
  }
  return (
    <NumberField
      label={label}
      {...(field.as === 'count' && { unit: '' })}
      value={value}
      min={least}
      max={most}
      step={step}
      onCommit={(x) => set(says, field.set(x))}
    />
  );
}

/** Without what is left over of turning degrees into radians and back. */
const tidy = (x: number): number => Number(x.toFixed(6));

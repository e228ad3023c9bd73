import { type JointOf, STOCKS } from '@gephyra/core';
import { NumberField } from '../../ui/number-field.tsx';
import { Pick } from '../../ui/pick.tsx';
import { degrees, Mm, radians, type SetFields } from './mm.tsx';

export function BallFields({ joint, set }: { joint: JointOf<'ball'>; set: SetFields }) {
  const { diameter, neck, slot, bite } = joint;
  return (
    <div className="grid grid-cols-2 gap-2">
      <Mm
        label="Ball"
        value={diameter}
        min={5}
        max={80}
        set={(x) => set('Ball', { diameter: x, neck: Math.min(neck, 0.65 * x), bite: Math.min(bite, x / 8) })}
      />
      <Mm
        label="Neck"
        value={neck}
        min={2}
        max={0.65 * diameter}
        set={(x) => set('Neck', { neck: x, slot: Math.min(slot, 0.4 * x) })}
      />
      <Mm
        label="Straight part of the neck"
        value={joint.length}
        min={0}
        max={40}
        set={(x) => set('Neck', { length: x })}
      />
      <Mm label="Slot" value={slot} min={0.4} max={0.4 * neck} step={0.1} set={(x) => set('Slot', { slot: x })} />
      <Mm
        label="Rim narrower by"
        value={bite}
        min={0.1}
        max={diameter / 8}
        step={0.05}
        set={(x) => set('Rim', { bite: x })}
      />
      <Mm
        label="Sprung out by"
        value={joint.spread}
        min={0}
        max={2}
        step={0.05}
        set={(x) => set('Spring', { spread: x })}
      />
      <NumberField
        label="Swing"
        unit="°"
        value={Math.round(degrees(joint.swing) * 10) / 10}
        min={2}
        max={30}
        step={1}
        onCommit={(x) => set('Swing', { swing: radians(x) })}
      />
    </div>
  );
}

export function HingeFields({ joint, set }: { joint: JointOf<'hinge'>; set: SetFields }) {
  const { diameter, length, knuckles, pin, stock } = joint;
  const sizes: readonly number[] = STOCKS.find((s) => s.stock === stock)?.diameters ?? [];
  return (
    <div className="grid grid-cols-2 gap-2">
      <Mm
        label="Knuckles across"
        value={diameter}
        min={3}
        max={60}
        set={(x) => set('Knuckles', { diameter: x, pin: Math.min(pin, 0.7 * x) })}
      />
      <Mm
        label="Along the axis"
        value={length}
        min={2 * knuckles}
        max={400}
        set={(x) => set('Length', { length: x })}
      />
      <NumberField
        label="Knuckles"
        value={knuckles}
        min={2}
        max={Math.min(31, Math.floor(length / 2))}
        step={1}
        onCommit={(x) => set('Knuckles', { knuckles: Math.round(x) })}
      />
      <NumberField
        label="Opens"
        unit="°"
        value={Math.round(degrees(joint.opens) * 10) / 10}
        min={3}
        max={150}
        step={5}
        onCommit={(x) => set('Opens', { opens: radians(x) })}
      />
      <Pick
        label="Pin"
        value={stock}
        options={[{ value: 'printed', label: 'Printed' }, ...STOCKS.map((s) => ({ value: s.stock, label: s.label }))]}
        onChange={(next) => set('Pin', { stock: next })}
      />
      {sizes.some((d) => d <= 0.7 * diameter) ? (
        <Pick
          label="Pin across"
          value={String(pin)}
          options={[...new Set([...sizes.filter((d) => d <= 0.7 * diameter), pin])].map((d) => ({
            value: String(d),
            label: `${d} mm`,
          }))}
          onChange={(next) => set('Pin', { pin: Number(next) })}
        />
      ) : (
        <Mm
          label="Pin across"
          value={pin}
          min={0.8}
          max={0.7 * diameter}
          step={0.1}
          set={(x) => set('Pin', { pin: x })}
        />
      )}
    </div>
  );
}

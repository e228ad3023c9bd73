import {
  type Joint,
  type JointOf,
  MAGNETS,
  SCREW_LENGTHS,
  SCREWS,
  STOCKS,
  screwLength,
  screwSize,
  stickLength,
} from '@gephyra/core';
import { Choice } from '../../ui/choice.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Pick } from '../../ui/pick.tsx';
import { degrees, Mm, radians, type SetFields } from './mm.tsx';
import { BallFields, HingeFields } from './turning-fields.tsx';

/** The sizes of a joint, kind by kind. `codes`: the pieces on the − and + side. */
export function SizeFields({ joint, codes, set }: { joint: Joint; codes: readonly string[]; set: SetFields }) {
  switch (joint.kind) {
    case 'pin':
      return <PinFields joint={joint} set={set} />;
    case 'key':
      return <KeyFields joint={joint} set={set} />;
    case 'cone':
      return <ConeFields joint={joint} set={set} />;
    case 'dowel':
      return <DowelFields joint={joint} codes={codes} set={set} />;
    case 'snap':
      return <SnapFields joint={joint} set={set} />;
    case 'ball':
      return <BallFields joint={joint} set={set} />;
    case 'hinge':
      return <HingeFields joint={joint} set={set} />;
    case 'screw':
      return <ScrewFields joint={joint} set={set} />;
    case 'magnet':
      return <MagnetFields joint={joint} codes={codes} set={set} />;
    case 'lap':
      return <LapFields joint={joint} set={set} />;
  }
}

const words = <T extends string>(list: readonly T[]): { value: T; label: string }[] =>
  list.map((value) => ({ value, label: value }));

function PinFields({ joint, set }: { joint: JointOf<'pin'>; set: SetFields }) {
  const { diameter, depth, chamfer } = joint;
  return (
    <div className="flex flex-col gap-2">
      <Pick
        label="Outline"
        value={joint.shape}
        options={words(['round', 'square', 'hexagon', 'octagon'])}
        onChange={(shape) => set('Outline', { shape })}
      />
      <div className="grid grid-cols-2 gap-2">
        <Mm
          label={joint.shape === 'round' ? 'Diameter' : 'Across flats'}
          value={diameter}
          set={(x) => set('Size', { diameter: x, chamfer: Math.min(chamfer, x / 4) })}
        />
        <Mm label="Depth" value={depth} set={(x) => set('Depth', { depth: x, chamfer: Math.min(chamfer, x / 3) })} />
        <Mm
          label="Lead-in"
          value={chamfer}
          min={0}
          max={Math.min(diameter / 2, depth) - 0.01}
          step={0.1}
          set={(x) => set('Lead-in', { chamfer: x })}
        />
      </div>
    </div>
  );
}

function KeyFields({ joint, set }: { joint: JointOf<'key'>; set: SetFields }) {
  const { outline, width, height = width, depth } = joint;
  const oblong = outline === 'rectangle' || outline === 'rounded';
  return (
    <div className="flex flex-col gap-2">
      <Pick
        label="Outline"
        value={outline}
        options={[
          { value: 'rectangle', label: 'rectangle' },
          { value: 'square', label: 'square' },
          { value: 'hexagon', label: 'hexagon' },
          { value: 'd', label: 'D' },
          { value: 'rounded', label: 'rounded' },
        ]}
        onChange={(next) => set('Outline', { outline: next })}
      />
      <div className="grid grid-cols-2 gap-2">
        <Mm label={oblong ? 'Width' : 'Across'} value={width} set={(x) => set('Width', { width: x })} />
        {oblong && <Mm label="Height" value={height} set={(x) => set('Height', { height: x })} />}
        <Mm label="Depth" value={depth} set={(x) => set('Depth', { depth: x })} />
        <NumberField
          label="Taper"
          unit="°"
          value={degrees(joint.taper)}
          min={0}
          max={30}
          step={0.5}
          onCommit={(x) => set('Taper', { taper: radians(x) })}
        />
        {outline !== 'd' && outline !== 'rounded' && (
          <Mm
            label="Corner radius"
            value={joint.corner}
            min={0}
            max={50}
            step={0.1}
            set={(x) => set('Corners', { corner: x })}
          />
        )}
        <Mm
          label="Bevel of the tip"
          value={joint.chamfer}
          min={0}
          max={20}
          step={0.1}
          set={(x) => set('Bevel', { chamfer: x })}
        />
      </div>
    </div>
  );
}

function ConeFields({ joint, set }: { joint: JointOf<'cone'>; set: SetFields }) {
  return (
    <div className="grid grid-cols-2 gap-2">
      <Mm
        label="Foot"
        value={joint.diameter}
        step={0.1}
        set={(x) => set('Foot', { diameter: x, tip: Math.min(joint.tip, x / 2) })}
      />
      <NumberField
        label="Slope"
        unit="°"
        value={degrees(joint.slope)}
        min={30}
        max={60}
        step={1}
        onCommit={(x) => set('Slope', { slope: radians(x) })}
      />
      <Mm label="Tip" value={joint.tip} min={0.2} max={50} step={0.1} set={(x) => set('Tip', { tip: x })} />
    </div>
  );
}

function DowelFields({ joint, codes, set }: { joint: JointOf<'dowel'>; codes: readonly string[]; set: SetFields }) {
  const stock = STOCKS.find((s) => s.stock === joint.stock);
  const [minus, plus] = joint.depths ?? [joint.depth, joint.depth];
  const sizes: readonly number[] = stock?.diameters ?? [];
  return (
    <div className="flex flex-col gap-2">
      <Pick
        label="Made of"
        value={joint.stock}
        options={[
          { value: 'printed', label: 'printed with the pieces' },
          ...STOCKS.map((s) => ({ value: s.stock, label: s.label })),
        ]}
        onChange={(next) => {
          const list: readonly number[] = STOCKS.find((s) => s.stock === next)?.diameters ?? [];
          const nearest = list.reduce<number>(
            (best, d) => (Math.abs(d - joint.diameter) < Math.abs(best - joint.diameter) ? d : best),
            list[0] ?? joint.diameter,
          );
          set('Stock', { stock: next, diameter: nearest });
        }}
      />
      {joint.stock === 'printed' && (
        <>
          <Choice
            label="Rod"
            value={joint.shape}
            options={words(['round', 'square', 'tapered'])}
            onChange={(shape) => set('Rod', { shape })}
          />
          <Choice
            label="Gap taken"
            value={joint.gapOn}
            options={[
              { value: 'socket', label: 'on the socket' },
              { value: 'rod', label: 'off the rod' },
            ]}
            onChange={(gapOn) => set('Gap', { gapOn })}
          />
        </>
      )}
      <div className="grid grid-cols-2 gap-2">
        {sizes.length > 0 ? (
          <Pick
            label="Diameter"
            value={String(joint.diameter)}
            options={[...new Set([...sizes, joint.diameter])].map((d) => ({ value: String(d), label: `${d} mm` }))}
            onChange={(d) => set('Diameter', { diameter: Number(d) })}
          />
        ) : (
          <Mm label="Diameter" value={joint.diameter} set={(x) => set('Diameter', { diameter: x })} />
        )}
        {joint.stock !== 'printed' && (
          <Mm
            label="Stick"
            value={joint.stockLength ?? Math.min(10_000, stickLength(joint.stock))}
            min={1}
            max={10_000}
            step={10}
            set={(x) => set('Stick', { stockLength: x })}
          />
        )}
        <Mm label={`Into ${codes[0]}`} value={minus} set={(x) => set('Depth', { depths: [x, plus] })} />
        <Mm label={`Into ${codes[1]}`} value={plus} set={(x) => set('Depth', { depths: [minus, x] })} />
      </div>
      <p className="num text-[13px] text-ink-soft">Cut {(minus + plus).toFixed(1)} mm long</p>
    </div>
  );
}

function SnapFields({ joint, set }: { joint: JointOf<'snap'>; set: SetFields }) {
  return (
    <div className="grid grid-cols-2 gap-2">
      <Mm label="Diameter" value={joint.diameter} min={3} max={60} set={(x) => set('Diameter', { diameter: x })} />
      <Mm label="Depth" value={joint.depth} min={4} max={120} set={(x) => set('Depth', { depth: x })} />
      <Mm label="Slot" value={joint.slot} min={0.4} max={20} step={0.1} set={(x) => set('Slot', { slot: x })} />
      <Mm label="Barb" value={joint.barb} min={0.1} max={4} step={0.05} set={(x) => set('Barb', { barb: x })} />
    </div>
  );
}

function LapFields({ joint, set }: { joint: JointOf<'lap'>; set: SetFields }) {
  return (
    <div className="flex flex-col gap-2">
      <Choice
        label="Lip along"
        value={joint.edge}
        options={[
          { value: 'inside', label: 'the inside' },
          { value: 'outside', label: 'the outside' },
        ]}
        onChange={(edge) => set('Edge', { edge })}
      />
      <div className="grid grid-cols-2 gap-2">
        <Mm label="Lip" value={joint.lip} min={0.3} max={50} step={0.05} set={(x) => set('Lip', { lip: x })} />
        <Mm label="Height" value={joint.depth} max={100} set={(x) => set('Height', { depth: x })} />
        <Mm
          label="Back from the ends"
          value={joint.setback}
          min={0}
          step={1}
          set={(x) => set('Ends', { setback: x })}
        />
      </div>
    </div>
  );
}

function ScrewFields({ joint, set }: { joint: JointOf<'screw'>; set: SetFields }) {
  const { size, into, grip, cover } = joint;
  const sizes = screwSize(size);
  const length = screwLength(joint);
  const lengths = [...new Set([...SCREW_LENGTHS, length])].sort((a, b) => a - b);
  return (
    <div className="flex flex-col gap-2">
      <div className="grid grid-cols-2 gap-2">
        <Pick
          label="Screw"
          value={size}
          options={words(SCREWS.map((s) => s.size))}
          onChange={(next) => set('Screw', { size: next, insert: undefined, insertLength: undefined })}
        />
        <Pick
          label="Length under its head"
          value={joint.length === undefined ? 'auto' : String(joint.length)}
          options={[
            { value: 'auto', label: `as it takes: ${length} mm` },
            ...lengths.map((l) => ({ value: String(l), label: `${l} mm` })),
          ]}
          onChange={(next) => set('Length', { length: next === 'auto' ? undefined : Number(next) })}
        />
      </div>
      <Pick
        label="Screwed into"
        value={into}
        options={[
          { value: 'insert', label: 'a heat-set insert' },
          { value: 'nut', label: 'a nut, laid in while it prints' },
          { value: 'plastic', label: 'the plastic itself' },
        ]}
        onChange={(next) => set('Screwed into', { into: next })}
      />
      <div className="grid grid-cols-2 gap-2">
        <Mm label="Under its head" value={grip} min={0.8} max={80} set={(x) => set('Under its head', { grip: x })} />
        {into === 'nut' && (
          <Mm
            label="Cover of the nut"
            value={cover}
            min={0.4}
            max={20}
            step={0.2}
            set={(x) => set('Cover', { cover: x })}
          />
        )}
        {into === 'insert' && (
          <>
            <Mm
              label="Bore of the insert"
              value={joint.insert ?? sizes.insert}
              min={1}
              max={40}
              step={0.1}
              set={(x) => set('Insert', { insert: x })}
            />
            <Mm
              label="Its length"
              value={joint.insertLength ?? sizes.insertLength}
              min={1}
              max={60}
              step={0.1}
              set={(x) => set('Insert', { insertLength: x })}
            />
          </>
        )}
      </div>
    </div>
  );
}

function MagnetFields({ joint, codes, set }: { joint: JointOf<'magnet'>; codes: readonly string[]; set: SetFields }) {
  const named = (m: { shape: string; diameter: number; thickness: number; height?: number }): string =>
    `${m.shape} ${m.diameter} × ${m.height ? `${m.height} × ` : ''}${m.thickness}`;
  const list = MAGNETS.map((m) => ({ value: named(m), label: `${named(m)} mm` }));
  const own = named({
    shape: joint.shape,
    diameter: joint.diameter,
    thickness: joint.thickness,
    ...(joint.height && { height: joint.height }),
  });
  return (
    <div className="flex flex-col gap-2">
      <Pick
        label="Magnet"
        value={own}
        options={list.some((o) => o.value === own) ? list : [...list, { value: own, label: `own: ${own} mm` }]}
        onChange={(next) => {
          const m = MAGNETS.find((x) => named(x) === next);
          if (m)
            set('Magnet', {
              shape: m.shape,
              diameter: m.diameter,
              thickness: m.thickness,
              height: 'height' in m ? m.height : undefined,
            });
        }}
      />
      <div className="grid grid-cols-2 gap-2">
        <Mm
          label={joint.shape === 'disc' ? 'Diameter' : 'Length'}
          value={joint.diameter}
          min={1}
          max={100}
          set={(x) => set('Magnet', { diameter: x })}
        />
        {joint.shape === 'block' && (
          <Mm
            label="Width"
            value={joint.height ?? joint.diameter}
            min={1}
            max={100}
            set={(x) => set('Magnet', { height: x })}
          />
        )}
        <Mm label="Thickness" value={joint.thickness} max={50} set={(x) => set('Thickness', { thickness: x })} />
        <Mm label="Cover" value={joint.cover} min={0} max={10} step={0.1} set={(x) => set('Cover', { cover: x })} />
      </div>
      {([0, 1] as const).map((side) => (
        <Choice
          key={codes[side]}
          label={`Pole that looks out of ${codes[side]}`}
          value={joint.poles[side]}
          options={[
            { value: 'n', label: 'north' },
            { value: 's', label: 'south' },
          ]}
          onChange={(pole) => set('Pole', { poles: side === 0 ? [pole, joint.poles[1]] : [joint.poles[0], pole] })}
        />
      ))}
    </div>
  );
}

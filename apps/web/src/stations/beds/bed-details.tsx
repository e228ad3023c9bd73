import {
  type Bed,
  bedName,
  degrees,
  hoursText,
  MATERIALS,
  type PlacedPiece,
  printersOf,
  radians,
} from '@gephyra/core/plan';
import { useProject } from '../../project/project.tsx';
import { useSelection } from '../../project/selection.tsx';
import { Button } from '../../ui/button.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Facts, Part } from '../../ui/panels.tsx';
import { Pick } from '../../ui/pick.tsx';
import { Rename } from '../../ui/rename.tsx';
import { Tick } from '../../ui/tick.tsx';
import { printerOfBed, sumOfBed } from './bed-math.ts';

/** A piece on the bed: where it is, by numbers, and where else it could be. */
export function PlacedDetails({ bed, at }: { bed: Bed; at: PlacedPiece }) {
  const { plan, view, prints, change } = useProject();
  const [, select] = useSelection();
  const code = view?.pieces.find((p) => p.key === at.piece)?.code ?? at.piece;
  const print = prints.byKey.get(at.piece);
  const place = (label: string, set: Partial<PlacedPiece>) =>
    change(label, { do: 'placePiece', piece: at.piece, copy: at.copy, bed: bed.id, set });
  const fixed = at.locked || bed.locked;
  return (
    <Part
      title={`${code}${(print?.copies ?? 1) > 1 ? `, copy ${at.copy}` : ''}`}
      note={print ? hoursText(print.estimate.hours) : ''}
    >
      <div className="grid grid-cols-3 gap-2">
        <NumberField label="x" disabled={fixed} value={at.x} onCommit={(x) => place(`Move ${code}`, { x })} />
        <NumberField label="y" disabled={fixed} value={at.y} onCommit={(y) => place(`Move ${code}`, { y })} />
        <NumberField
          label="Turned"
          unit="°"
          step={15}
          digits={1}
          disabled={fixed}
          value={degrees(at.spin)}
          onCommit={(d) => place(`Turn ${code}`, { spin: radians(d) })}
        />
      </div>
      <div className="mt-2 grid grid-cols-2 items-end gap-2">
        <Pick
          label="On"
          value={bed.id}
          options={plan.beds.map((b) => ({ value: b.id, label: bedName(b, plan.beds) }))}
          onChange={(id) => {
            change(`Move ${code} to ${bedName(plan.beds.find((b) => b.id === id)!, plan.beds)}`, {
              do: 'placePiece',
              piece: at.piece,
              copy: at.copy,
              bed: id,
            });
            select({ bed: id });
          }}
        />
        <Button
          disabled={bed.locked}
          onClick={() => {
            change(`Take ${code} off`, { do: 'placePiece', piece: at.piece, copy: at.copy, bed: null });
            select({ piece: null, copy: null });
          }}
        >
          Take off
        </Button>
      </div>
      <div className="mt-2">
        <Tick checked={at.locked} onChange={(locked) => place(`${locked ? 'Lock' : 'Free'} ${code}`, { locked })}>
          locked, stays here when beds are filled
        </Tick>
      </div>
    </Part>
  );
}

/** What a bed is for. */
export function BedDetails({ bed }: { bed: Bed }) {
  const { plan, prints, change } = useProject();
  const [, select] = useSelection();
  const name = bedName(bed, plan.beds);
  const printer = printerOfBed(plan, bed);
  const { hours, grams, share } = sumOfBed(bed, prints.byKey, printer);
  const set = (label: string, what: Partial<Bed>) => change(label, { do: 'setBed', id: bed.id, set: what });
  const material = bed.material ?? '';
  return (
    <Part title={`About ${name}`} note={`${bed.pieces.length} ${bed.pieces.length === 1 ? 'piece' : 'pieces'}`}>
      <div className="grid grid-cols-2 items-end gap-2">
        <div>
          <span aria-hidden className="mb-0.5 block text-ink-soft text-sm">
            Own name
          </span>
          <Rename
            value={bed.name}
            label="Own name of the bed"
            placeholder={name}
            framed
            className="h-[30px] w-full"
            onCommit={(next) => set(`Name ${name} ${next}`, { name: next })}
          />
        </div>
        <Pick
          label="Printer"
          value={bed.printer}
          options={printersOf(plan).map((p) => ({ value: p.name, label: p.name }))}
          onChange={(next) => set(`Print ${name} on ${next}`, { printer: next })}
        />
        <Pick
          label="Material"
          value={material}
          options={[
            { value: '', label: printer.material ?? 'any' },
            ...MATERIALS.filter((m) => m.kind === printer.kind).map((m) => ({ value: m.name, label: m.name })),
          ]}
          onChange={(next) => set(`Print ${name} from ${next}`, { material: next || undefined })}
        />
        <Button
          onClick={() => {
            change(`Remove ${name}`, { do: 'removeBed', id: bed.id });
            select({ bed: null, piece: null, copy: null });
          }}
        >
          Remove this bed
        </Button>
      </div>
      <div className="my-2">
        <Tick checked={bed.locked} onChange={(locked) => set(`${locked ? 'Lock' : 'Free'} ${name}`, { locked })}>
          locked, stays as it is
        </Tick>
      </div>
      <Facts
        rows={[
          ['takes about', hoursText(hours)],
          ['weighs', `${grams.toFixed(0)} g`],
          ['filled', `${(100 * share).toFixed(0)} %`],
        ]}
      />
    </Part>
  );
}

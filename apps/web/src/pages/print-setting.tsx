import type { OwnPrinter } from '@gephyra/contract';
import { type Fields, learnedFactor, printerSchema, printSettingFields, printSettingOf } from '@gephyra/core/plan';
import { format } from 'date-fns';
import { Trash2 } from 'lucide-react';
import { useState } from 'react';
import { MeasureField } from '../ui/asked-fields.tsx';
import { bounded } from '../ui/bounded.ts';
import { Button } from '../ui/button.tsx';
import { NumberField } from '../ui/number-field.tsx';

type Material = OwnPrinter['materials'][number];
interface Props {
  readonly printer: OwnPrinter;
  readonly set: (next: Partial<OwnPrinter>) => void;
}

/** How a printer prints a material: what estimates and poses go by. Grey: a value to begin with. */
export function PrintSetting({ printer, material, set }: Props & { readonly material: Material }) {
  const { kind, nozzle } = printer;
  const full = printSettingOf({ kind, nozzle, material: material.name, setting: material.setting });
  const own: Fields = material.setting ?? {};
  const put = (next: Partial<Material>): void =>
    set({ materials: printer.materials.map((m) => (m.name === material.name ? { ...m, ...next } : m)) });
  return (
    <section aria-label="How it prints" className="rounded border border-rule bg-sheet p-4">
      <div className="mb-3 flex items-baseline justify-between gap-3">
        <h2 className="text-lg">How it prints {material.name}</h2>
        <Button disabled={Object.keys(own).length === 0} onClick={() => put({ setting: undefined })}>
          Starting values
        </Button>
      </div>
      <p className="mb-2 text-ink-soft">
        Hours, grams and poses go by these. Grey: a value to begin with, on the careful side.
      </p>
      <div className="grid grid-cols-5 gap-3">
        {printSettingFields(kind, full).map((field) => (
          <div key={field.name} className={own[field.name] === undefined ? 'text-ink-soft' : ''}>
            <MeasureField field={field} set={(_, next) => put({ setting: { ...own, ...next } })} />
          </div>
        ))}
      </div>
      <Logged material={material} put={put} />
    </section>
  );
}

/** Prints that were timed, and what they say of the estimates. */
function Logged({ material, put }: { material: Material; put: (next: Partial<Material>) => void }) {
  const [estimate, setEstimate] = useState(1);
  const [hours, setHours] = useState(1);
  const { factor, count } = learnedFactor(material.prints, new Date());
  return (
    <section aria-label="Timed prints" className="mt-4 border-rule border-t pt-3">
      <div className="flex flex-wrap items-end gap-3">
        <h3 className="grow font-semibold">
          Timed prints{' '}
          <span className="font-normal text-ink-soft">
            {count === 0
              ? 'none yet: estimates are as reckoned'
              : `${count} ${count === 1 ? 'print' : 'prints'}: estimates are taken times ${factor.toFixed(2)}`}
          </span>
        </h3>
        <div className="w-32">
          <NumberField label="Was estimated" unit="h" min={0.01} max={1000} value={estimate} onCommit={setEstimate} />
        </div>
        <div className="w-32">
          <NumberField label="It took" unit="h" min={0.01} max={1000} value={hours} onCommit={setHours} />
        </div>
        <Button
          onClick={() =>
            put({
              prints: [{ date: format(new Date(), 'yyyy-MM-dd'), hours, estimate, note: '' }, ...material.prints].slice(
                0,
                500,
              ),
            })
          }
        >
          Add this print
        </Button>
      </div>
      {material.prints.length > 0 && (
        <ul className="mt-2">
          {material.prints.slice(0, 12).map((p, i) => (
            <li
              key={`${p.date} ${p.hours} ${p.estimate} ${p.note}`}
              className="flex items-center gap-4 border-rule border-t py-1"
            >
              <span className="num text-[13px]">{p.date}</span>
              <span className="num text-[13px]">
                {p.hours.toFixed(2)} h of {p.estimate.toFixed(2)} h
              </span>
              <span className="grow text-ink-soft">{p.note}</span>
              <Button
                className="h-7"
                aria-label={`Remove the print of ${p.date}`}
                onClick={() => put({ prints: material.prints.toSpliced(i, 1) })}
              >
                <Trash2 size={14} aria-hidden />
              </Button>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

/** Places of the bed that pieces keep out of: clips, a wipe corner. */
export function KeepOut({ printer, set }: Props) {
  const boxes = printer.keepOut ?? [];
  const change = (i: number, next: Partial<(typeof boxes)[number]>): void =>
    set({ keepOut: boxes.map((b, k) => (k === i ? { ...b, ...next } : b)) });
  return (
    <section aria-label="Kept free" className="rounded border border-rule bg-sheet p-4">
      <div className="flex items-center justify-between gap-3">
        <h2 className="text-lg">Kept free on its bed</h2>
        <Button
          disabled={boxes.length >= 20}
          onClick={() => set({ keepOut: [...boxes, { at: [0, 0], size: [20, 20] }] })}
        >
          Add a place
        </Button>
      </div>
      {boxes.length === 0 ? (
        <p className="text-ink-soft">Nothing: pieces may lie anywhere within the margin.</p>
      ) : (
        <ul>
          {boxes.map(({ at, size }, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a place is its position in the list, two may be alike
            <li key={i} className="mt-2 flex items-end gap-2">
              <NumberField
                label="From the left"
                {...bounded(printerSchema.shape.keepOut.unwrap().element.shape.at)}
                value={at[0]}
                onCommit={(x) => change(i, { at: [x, at[1]] })}
              />
              <NumberField
                label="From the front"
                {...bounded(printerSchema.shape.keepOut.unwrap().element.shape.at)}
                value={at[1]}
                onCommit={(y) => change(i, { at: [at[0], y] })}
              />
              <NumberField
                label="Wide"
                {...bounded(printerSchema.shape.keepOut.unwrap().element.shape.size)}
                value={size[0]}
                onCommit={(x) => change(i, { size: [x, size[1]] })}
              />
              <NumberField
                label="Deep"
                {...bounded(printerSchema.shape.keepOut.unwrap().element.shape.size)}
                value={size[1]}
                onCommit={(y) => change(i, { size: [size[0], y] })}
              />
              <Button aria-label={`Remove place ${i + 1}`} onClick={() => set({ keepOut: boxes.toSpliced(i, 1) })}>
                <Trash2 size={14} aria-hidden />
              </Button>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

import type { Equipment, OwnPrinter } from '@gephyra/contract';
import {
  FITS,
  type Fit,
  gapOf,
  JOINT_KINDS,
  type JointKind,
  jointCommon,
  kindOf,
  MATERIALS,
  printerSchema,
  startingFits,
  wallLimits,
} from '@gephyra/core/plan';
import { format, isValid, parseISO } from 'date-fns';
import { Trash2, Undo2 } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { printerOf } from '../equipment/fits.ts';
import { PRINTERS } from '../equipment/printers.ts';
import { useEquipment } from '../equipment/use-equipment.ts';
import { bounded } from '../ui/bounded.ts';
import { Button } from '../ui/button.tsx';
import { Choice } from '../ui/choice.tsx';
import { DropMenu } from '../ui/menu.tsx';
import { NumberField } from '../ui/number-field.tsx';
import { Pick } from '../ui/pick.tsx';
import { Rename } from '../ui/rename.tsx';
import { KeepOut, PrintSetting } from './print-setting.tsx';

/** A day as people write it; one that is none as it is. */
const dayOf = (date: string): string => {
  const day = parseISO(date);
  return isValid(day) ? format(day, 'd MMM yyyy') : date;
};

const nameOf = (kind: JointKind | 'all'): string => (kind === 'all' ? 'all kinds' : kindOf({ kind }).name);

/** The equipment's printers: their volume and limits, and by material the fits and what coupons said. */
export default function PrintersPage() {
  const { equipment, ready, change } = useEquipment();
  const [chosen, setChosen] = useState<string | null>(null);
  const printer = equipment.printers.find((p) => p.name === chosen) ?? equipment.printers[0] ?? null;
  const [past, setPast] = useState<readonly Equipment[]>([]);
  const keep = (make: (w: Equipment) => Equipment): void => {
    setPast([...past, equipment]);
    void change(make);
  };
  const undo = (): void => {
    const last = past.at(-1);
    if (!last) return;
    setPast(past.slice(0, -1));
    void change(() => last);
  };
  const put = (name: string, next: OwnPrinter | null): void => {
    keep((w) => {
      const at = w.printers.findIndex((p) => p.name === name);
      const list = w.printers.filter((p) => p.name !== name);
      return { ...w, printers: next ? list.toSpliced(at < 0 ? list.length : at, 0, next) : list };
    });
    if (next) setChosen(next.name);
  };
  const add = (preset: string): void => {
    const base = PRINTERS.find((p) => p.name === preset) ?? PRINTERS[3];
    let name = base.name;
    for (let n = 2; equipment.printers.some((p) => p.name === name); n++) name = `${base.name} (${n})`;
    const { size, margin, nozzle, kind } = base;
    const material = MATERIALS.find((m) => m.kind === kind)!.name;
    put(name, { name, size, margin, nozzle, kind, materials: [{ name: material, fits: {}, results: [], prints: [] }] });
  };
  return (
    <div className="min-h-screen bg-paper">
      <header className="border-rule border-b bg-sheet px-6 py-3">
        <Link to="/" className="flex w-fit items-center gap-2 font-display font-semibold text-ink-soft hover:text-ink">
          <img src="/bridge.svg" alt="" width={20} height={20} />
          <span>Projects</span>
        </Link>
        <div className="mt-1 flex items-center justify-between gap-4">
          <h1 className="text-2xl">Printers and fits</h1>
          <Button disabled={past.length === 0} onClick={undo}>
            <Undo2 size={15} aria-hidden /> Undo
          </Button>
        </div>
      </header>
      <div className="mx-auto grid max-w-[1180px] grid-cols-[240px_minmax(0,1fr)] gap-6 px-6 py-5">
        <nav aria-label="Printers">
          <ul className="flex flex-col">
            {equipment.printers.map((p) => (
              <li key={p.name} className="border-rule border-t">
                <button
                  type="button"
                  aria-current={p.name === printer?.name}
                  className={`flex w-full flex-col px-2.5 py-1.5 text-left ${p.name === printer?.name ? 'border-l-[3px] border-l-lapis bg-lapis-wash/60' : ''}`}
                  onClick={() => setChosen(p.name)}
                >
                  <span className="font-semibold">{p.name}</span>
                  <span className="num text-[12px] text-ink-soft">{p.size.join(' × ')}</span>
                </button>
              </li>
            ))}
          </ul>
          <div className="mt-3 flex items-end gap-1.5">
            <DropMenu
              label="Add a printer"
              entries={PRINTERS.map((p) => ({ title: p.name, run: () => add(p.name) }))}
            />
          </div>
        </nav>
        {ready && !printer && (
          <main className="rounded border border-rule bg-sheet p-6">
            <h2 className="text-lg">No printer yet</h2>
            <p className="mt-1 mb-4 max-w-[60ch] text-ink-soft">
              A printer kept here has its measures, the limits that joints are checked against, and the gaps that were
              found out with coupons. Take a usual size and change what is different; a coupon’s result from a project
              adds its printer by itself.
            </p>
            <div className="flex flex-wrap gap-2">
              {PRINTERS.map((p) => (
                <Button key={p.name} onClick={() => add(p.name)}>
                  {p.name} <span className="num text-[12px] text-ink-soft">{p.size.join(' × ')}</span>
                </Button>
              ))}
            </div>
          </main>
        )}
        {printer && <PrinterSheet key={printer.name} printer={printer} put={(next) => put(printer.name, next)} />}
      </div>
    </div>
  );
}

function PrinterSheet({ printer, put }: { printer: OwnPrinter; put: (next: OwnPrinter | null) => void }) {
  const [material, setMaterial] = useState(printer.materials[0]?.name ?? '');
  const own = printer.materials.find((m) => m.name === material) ?? printer.materials[0] ?? null;
  const set = (next: Partial<OwnPrinter>): void => put({ ...printer, ...next });
  const limit = (name: 'least' | 'wall' | 'cover' | 'bridge', value: number): void =>
    set({ limits: { ...printer.limits, [name]: value } });
  const known = MATERIALS.filter((m) => m.kind === printer.kind && !printer.materials.some((x) => x.name === m.name));
  const starting = wallLimits({ kind: printer.kind, nozzle: printer.nozzle });
  return (
    <main className="flex flex-col gap-5">
      <section aria-label="Printer" className="rounded border border-rule bg-sheet p-4">
        <div className="mb-3 flex items-center justify-between">
          <Rename
            value={printer.name}
            label="Printer name"
            className="font-display font-semibold text-lg"
            onCommit={(name) => set({ name })}
          />
          <Button look="danger" onClick={() => put(null)}>
            <Trash2 size={14} aria-hidden /> Remove
          </Button>
        </div>
        <div className="grid grid-cols-5 gap-3">
          {(['x', 'y', 'z'] as const).map((axis, a) => (
            <NumberField
              key={axis}
              label={`Along ${axis}`}
              value={printer.size[a]}
              {...bounded(printerSchema.shape.size)}
              onCommit={(x) => set({ size: printer.size.map((s, k) => (k === a ? x : s)) as [number, number, number] })}
            />
          ))}
          <NumberField
            label="Margin"
            value={printer.margin}
            {...bounded(printerSchema.shape.margin)}
            onCommit={(margin) => set({ margin })}
          />
          <NumberField
            label="Nozzle or finest wall"
            value={printer.nozzle}
            {...bounded(printerSchema.shape.nozzle)}
            step={0.1}
            onCommit={(nozzle) => set({ nozzle })}
          />
          <Choice
            label="Kind"
            value={printer.kind}
            options={[
              { value: 'filament', label: 'filament' },
              { value: 'resin', label: 'resin' },
            ]}
            onChange={(kind) => set({ kind })}
          />
          <NumberField
            label="Least wall"
            value={printer.limits?.least ?? starting.stop}
            {...bounded(printerSchema.shape.limits.unwrap().shape.least)}
            step={0.1}
            onCommit={(x) => limit('least', x)}
          />
          <NumberField
            label="Wall that holds"
            value={printer.limits?.wall ?? starting.warn}
            {...bounded(printerSchema.shape.limits.unwrap().shape.wall)}
            step={0.1}
            onCommit={(x) => limit('wall', x)}
          />
          <NumberField
            label="Magnet cover"
            value={printer.limits?.cover ?? starting.cover}
            {...bounded(printerSchema.shape.limits.unwrap().shape.cover)}
            step={0.1}
            onCommit={(x) => limit('cover', x)}
          />
          <NumberField
            label="Free roof"
            value={printer.limits?.bridge ?? Math.min(200, starting.bridge)}
            {...bounded(printerSchema.shape.limits.unwrap().shape.bridge)}
            step={1}
            onCommit={(x) => limit('bridge', x)}
          />
        </div>
      </section>
      {own && <PrintSetting printer={printer} material={own} set={set} />}
      <KeepOut printer={printer} set={set} />
      <section aria-label="Fits" className="rounded border border-rule bg-sheet p-4">
        <div className="mb-3 flex items-end gap-3">
          <h2 className="grow text-lg">Fits</h2>
          <div className="w-48">
            <Pick
              label="Material"
              value={own?.name ?? ''}
              options={printer.materials.map((m) => ({ value: m.name, label: m.name }))}
              onChange={setMaterial}
            />
          </div>
          <div>
            <DropMenu
              label="Add a material"
              entries={known.map(({ name }) => ({
                title: name,
                run: () => {
                  set({ materials: [...printer.materials, { name, fits: {}, results: [], prints: [] }] });
                  setMaterial(name);
                },
              }))}
            />
          </div>
        </div>
        {own && <FitGrid printer={printer} material={own.name} set={set} />}
        {own && <Results results={own.results} />}
      </section>
    </main>
  );
}

/** Gaps per side by kind and fit; what was not tried shows where it begins. */
function FitGrid({
  printer,
  material,
  set,
}: {
  printer: OwnPrinter;
  material: string;
  set: (next: Partial<OwnPrinter>) => void;
}) {
  const asPlan = printerOf(printer, material);
  const own = printer.materials.find((m) => m.name === material)!;
  const gapIn = (kind: JointKind | 'all', fit: Fit): number =>
    kind === 'all' ? (asPlan.fits?.all?.[fit] ?? startingFits(printer)[fit]) : gapOf(fit, kind, asPlan);
  const put = (kind: JointKind | 'all', fit: Fit, gap: number): void => {
    const next = { ...own, fits: { ...own.fits, [kind]: { ...own.fits[kind], [fit]: gap } } };
    set({ materials: printer.materials.map((m) => (m.name === material ? next : m)) });
  };
  return (
    <table className="w-full">
      <caption className="pb-1.5 text-left text-ink-soft">
        Gap per side in mm. Grey: a value to begin with, until a coupon or you say otherwise.
      </caption>
      <thead>
        <tr className="text-left text-ink-soft text-sm">
          <th className="py-1 font-normal">Kind</th>
          {FITS.map((f) => (
            <th key={f} className="py-1 font-normal">
              {f}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {(['all', ...JOINT_KINDS] as const).map((kind) => (
          <tr key={kind} className="border-rule border-t">
            <th scope="row" className="py-1 pr-3 text-left font-normal">
              {nameOf(kind)}
            </th>
            {FITS.map((fit) => {
              const tried = own.fits[kind]?.[fit] !== undefined;
              return (
                <td key={fit} className={`w-[19%] py-1 pr-2 ${tried ? '' : 'text-ink-soft'}`}>
                  <NumberField
                    label={`${nameOf(kind)}, ${fit}`}
                    hideLabel
                    value={gapIn(kind, fit)}
                    {...bounded(jointCommon.gap)}
                    step={0.01}
                    onCommit={(gap) => put(kind, fit, gap)}
                  />
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Results({ results }: { results: OwnPrinter['materials'][number]['results'] }) {
  if (results.length === 0) {
    return (
      <p className="mt-3 text-ink-soft">
        No coupon tried yet. In a project, under Joints, the fits of a joint have a coupon to save and its result to
        enter.
      </p>
    );
  }
  return (
    <>
      <h3 className="mt-4 mb-1 font-semibold">What coupons said</h3>
      <table className="w-full text-[13px]">
        <thead>
          <tr className="text-left text-ink-soft text-sm">
            <th className="py-1 font-normal">Day</th>
            <th className="py-1 font-normal">Kind</th>
            <th className="py-1 font-normal">Gaps, mm</th>
            <th className="py-1 font-normal">Note</th>
          </tr>
        </thead>
        <tbody>
          {results.map((r) => (
            <tr key={JSON.stringify(r)} className="border-rule border-t">
              <td className="py-1">{dayOf(r.date)}</td>
              <td className="py-1">{nameOf(r.kind)}</td>
              <td className="num py-1">
                {FITS.flatMap((f) => (r.gaps[f] === undefined ? [] : [`${f} ${r.gaps[f]}`])).join(', ')}
              </td>
              <td className="py-1">{r.note}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

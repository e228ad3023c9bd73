import { type Plan, usableSize } from '@gephyra/core';
import { useMemo } from 'react';
import { Link } from 'react-router';
import { useProject } from '../plan/project.tsx';
import { useStationView } from '../shell/workspace-state.tsx';
import { Choice } from '../ui/choice.tsx';
import { Findings } from '../ui/findings.tsx';
import { NumberField } from '../ui/number-field.tsx';
import { Facts, Ledger, Part, Side } from './panels.tsx';
import { PRINTERS } from './printers.ts';

const AXES = ['x', 'y', 'z'] as const;
const LONG = ['wide', 'deep', 'tall'] as const;

/** Bodies, their health, the printer and the model's size. */
export default function ModelStation() {
  const { project, plan, view, model } = useProject();
  const factor = view?.factor ?? 1;
  const box = view?.box;
  const size = plan.printer.size;
  const crate = useMemo(() => {
    if (!box) return null;
    const middle = [0, 1].map((a) => (box.min[a] + box.max[a]) / 2);
    return { size, at: [middle[0] - size[0] / 2, middle[1] - size[1] / 2, box.min[2]] as const, follows: false };
  }, [box, size]);
  useStationView(useMemo(() => ({ crate, plain: true }), [crate]));
  const own = view?.findings.filter((f) => f.code.startsWith('bod')) ?? [];
  return (
    <>
      <Ledger
        title="Model"
        action={
          <Link
            to={`/p/${project.id}/seams`}
            className="flex h-[30px] items-center rounded border border-ink bg-ink px-2.5 text-sheet hover:bg-[#2c3c47]"
          >
            Place seams
          </Link>
        }
      >
        <p className="mb-3 break-words text-ink-soft text-sm">
          {project.source.fileName}, {project.source.format === 'stl-binary' ? 'binary STL' : 'text STL'}
        </p>
        <h2 className="mb-1 text-base">
          {project.source.bodies.length === 1 ? 'One body' : `${project.source.bodies.length} bodies`}
        </h2>
        <ul className="border-rule border-t">
          {project.source.bodies.map((b) => (
            <li key={b.id} className="border-rule border-b py-2">
              <div className="flex items-baseline justify-between gap-2">
                <span className="truncate font-semibold">{b.name}</span>
                <span className={b.watertight ? 'text-good' : 'text-stop'}>{b.watertight ? 'closed' : 'open'}</span>
              </div>
              <div className="num text-[12px] text-ink-soft leading-5">
                {b.size.map((x) => (x * factor).toFixed(1)).join(' × ')} mm
                <br />
                {b.triangles.toLocaleString('en')} triangles
                {b.watertight ? `, ${((b.volume * factor ** 3) / 1000).toFixed(1)} cm³` : `, ${b.openEdges} open edges`}
              </div>
            </li>
          ))}
        </ul>
        <div className="mt-3 flex flex-col gap-2">
          <Findings list={own} />
          {(model?.notes ?? project.source.notes).map((n) => (
            <p key={n} className="border-lapis border-l-[3px] bg-lapis-wash py-1.5 pr-2 pl-2.5">
              {n}
            </p>
          ))}
        </div>
      </Ledger>
      <Side>
        <Part title="Against the printer" note={`${plan.printer.name}, in mm`}>
          <Lengths />
        </Part>
        <Part title="Size">
          <SizeFields />
        </Part>
        <Part title="Printer">
          <PrinterFields />
        </Part>
      </Side>
    </>
  );
}

/** Each length of the model laid along the printer's, one rod for every printer it takes. */
function Lengths() {
  const { plan, view } = useProject();
  if (!view) return <p className="text-ink-soft">Reading the model.</p>;
  const room = usableSize(plan.printer);
  const lengths = AXES.map((_, a) => view.box.max[a] - view.box.min[a]);
  const longest = Math.max(...lengths, ...room);
  return (
    <ul className="flex flex-col gap-3">
      {AXES.map((axis, a) => {
        const times = lengths[a] / room[a];
        const fits = times <= 1;
        return (
          <li key={axis}>
            <div className="flex items-baseline justify-between">
              <span>
                <span className="num text-ink-soft">{axis}</span> <span className="num">{lengths[a].toFixed(1)}</span>
              </span>
              <span className={fits ? 'text-good' : 'text-stop'}>
                {fits ? 'fits' : `${times.toFixed(1)} printers ${LONG[a]}`}
              </span>
            </div>
            <svg
              viewBox="0 0 292 20"
              className="mt-0.5 w-full"
              role="img"
              aria-label={`${axis}: ${lengths[a].toFixed(1)} mm of ${room[a]} mm`}
            >
              <rect
                x="0"
                y="5"
                height="8"
                width={(lengths[a] / longest) * 290}
                fill={fits ? 'var(--color-good)' : 'var(--color-cut)'}
                opacity="0.75"
              />
              {Array.from({ length: Math.floor(times) + 1 }, (_, k) => {
                const x = (((k + 1) * room[a]) / longest) * 290;
                return x <= 291 ? (
                  <path key={x} d={`M${x} 1V19`} stroke="var(--color-ink)" strokeDasharray="2 2" />
                ) : null;
              })}
              <path d="M0.5 1V19" stroke="var(--color-ink)" />
            </svg>
          </li>
        );
      })}
    </ul>
  );
}

function SizeFields() {
  const { plan, view, change } = useProject();
  if (!view) return null;
  const set = (label: string, step: Plan['recipe'][number] | null): void =>
    change(label, { do: 'set', set: { recipe: step ? [step] : [] } });
  return (
    <>
      <div className="mb-2 grid grid-cols-3 gap-2">
        {AXES.map((axis, a) => (
          <NumberField
            key={axis}
            label={['Width', 'Depth', 'Height'][a]}
            value={view.box.max[a] - view.box.min[a]}
            digits={1}
            min={0.001}
            max={100_000}
            onCommit={(size) => set(`Size ${axis} ${size} mm`, { kind: 'scale', axis, size })}
          />
        ))}
      </div>
      <div className="flex items-end gap-2">
        <NumberField
          label="Factor"
          unit="×"
          value={view.factor}
          digits={4}
          step={0.01}
          min={1e-6}
          max={1e6}
          onCommit={(factor) => set(`Scale by ${factor}`, { kind: 'scale', factor })}
        />
        <button
          type="button"
          className="h-[30px] px-1 text-lapis underline underline-offset-2 disabled:text-ink-soft disabled:no-underline"
          disabled={plan.recipe.length === 0}
          onClick={() => set('Size as in the file', null)}
        >
          as in the file
        </button>
      </div>
      <p className="mt-2 text-ink-soft text-sm">All axes scale together. Pins and gaps keep their millimetres.</p>
    </>
  );
}

function PrinterFields() {
  const { plan, change } = useProject();
  const { printer } = plan;
  const preset = PRINTERS.find((p) => p.name === printer.name && p.size.join() === printer.size.join());
  const set = (label: string, next: Partial<Plan['printer']>): void =>
    change(label, { do: 'set', set: { printer: { ...printer, ...next } } });
  return (
    <div className="flex flex-col gap-2">
      <label className="block">
        <span className="mb-0.5 block text-ink-soft text-sm">Printer</span>
        <select
          className="h-[30px] w-full rounded border border-rule-strong bg-sheet px-1.5"
          value={preset?.name ?? 'own'}
          onChange={(e) => {
            const chosen = PRINTERS.find((p) => p.name === e.target.value);
            if (chosen) set(`Printer ${chosen.name}`, chosen);
            else set('Own printer', { name: 'Own printer' });
          }}
        >
          {PRINTERS.map((p) => (
            <option key={p.name} value={p.name}>
              {p.name}: {p.size.join(' × ')}
            </option>
          ))}
          <option value="own">Own measures</option>
        </select>
      </label>
      <div className="grid grid-cols-3 gap-2">
        {AXES.map((axis, a) => (
          <NumberField
            key={axis}
            label={`Along ${axis}`}
            value={printer.size[a]}
            min={10}
            max={5000}
            onCommit={(x) => {
              const size = [...printer.size] as [number, number, number];
              size[a] = x;
              set(`Printer ${axis} ${x} mm`, { name: 'Own printer', size });
            }}
          />
        ))}
      </div>
      <div className="grid grid-cols-2 gap-2">
        <NumberField
          label="Margin"
          value={printer.margin}
          min={0}
          max={100}
          onCommit={(margin) => set('Printer margin', { margin })}
        />
        <NumberField
          label="Nozzle or finest wall"
          value={printer.nozzle}
          step={0.1}
          min={0.02}
          max={3}
          onCommit={(nozzle) => set('Nozzle', { nozzle })}
        />
      </div>
      <Choice
        label="Kind"
        value={printer.kind}
        options={[
          { value: 'filament', label: 'filament' },
          { value: 'resin', label: 'resin' },
        ]}
        onChange={(kind) => set(`Kind ${kind}`, { kind })}
      />
      <Facts
        rows={[
          [
            'Usable',
            `${usableSize(printer)
              .map((x) => x.toFixed(0))
              .join(' × ')} mm`,
          ],
        ]}
      />
    </div>
  );
}

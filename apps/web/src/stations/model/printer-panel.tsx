import { type Plan, printerSchema, three, usableSize, withinBuild } from '@gephyra/core/plan';
import { newerOf, printerOf } from '../../equipment/fits.ts';
import { PRINTERS } from '../../equipment/printers.ts';
import { useEquipment } from '../../equipment/use-equipment.ts';
import { useProject } from '../../project/project.tsx';
import { bounded } from '../../ui/bounded.ts';
import { Button } from '../../ui/button.tsx';
import { Choice } from '../../ui/choice.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Facts } from '../../ui/panels.tsx';
import { Pick } from '../../ui/pick.tsx';

const AXES = ['x', 'y', 'z'] as const;
const LONG = ['wide', 'deep', 'tall'] as const;

/** Each length of the model laid along the printer's, one rod for every printer it takes. */
export function Lengths() {
  const { plan, view } = useProject();
  if (!view) return <p className="text-ink-soft">Reading the model.</p>;
  const room = usableSize(plan.printer);
  const lengths = three((a) => view.box.max[a] - view.box.min[a]);
  // one that is too long as it stands may still fit when it is laid down
  const turned = withinBuild(plan.printer, lengths).within;
  const longest = Math.max(...lengths, ...room);
  return (
    <ul className="flex flex-col gap-3">
      {AXES.map((axis, a) => {
        const times = lengths[a] / room[a];
        const upright = times <= 1;
        const fits = upright || turned;
        return (
          <li key={axis}>
            <div className="flex items-baseline justify-between">
              <span>
                <span className="num text-ink-soft">{axis}</span> <span className="num">{lengths[a].toFixed(1)}</span>
              </span>
              <span className={fits ? 'text-good' : 'text-stop'}>
                {upright ? 'fits' : turned ? 'fits turned' : `${times.toFixed(1)} printers ${LONG[a]}`}
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

/** In the list of printers: none of them. */
const OWN = '';

/** The printer the pieces must fit. */
export function PrinterFields() {
  const { plan, change } = useProject();
  const { printer } = plan;
  const { equipment } = useEquipment();
  const newer = newerOf(equipment, printer);
  const own = equipment.printers.map((p) => printerOf(p, undefined));
  const list = [...own, ...PRINTERS.filter((p) => !own.some((o) => o.name === p.name))];
  const preset = list.find((p) => p.name === printer.name && p.size.join() === printer.size.join());
  const set = (label: string, next: Partial<Plan['printer']>) =>
    change(label, (now) => ({ do: 'set', set: { printer: { ...now.printer, ...next } } }));
  return (
    <div className="flex flex-col gap-2">
      <Pick
        label="Printer"
        value={preset?.name ?? OWN}
        options={[
          ...list.map((p) => ({ value: p.name, label: `${p.name}: ${p.size.join(' × ')}` })),
          { value: OWN, label: 'Own measures' },
        ]}
        onChange={(name) => {
          const chosen = list.find((p) => p.name === name);
          if (chosen) change(`Printer ${chosen.name}`, { do: 'set', set: { printer: chosen } });
          else set('Own printer', { name: 'Own printer' });
        }}
      />
      {newer && (
        <Button
          className="h-auto min-h-[30px] whitespace-normal py-1"
          onClick={() => change(`Bring ${newer.name} up to date`, { do: 'set', set: { printer: newer } })}
        >
          Bring up to date with Printers
        </Button>
      )}
      <div className="grid grid-cols-3 gap-2">
        {AXES.map((axis, a) => (
          <NumberField
            key={axis}
            label={`Along ${axis}`}
            value={printer.size[a]}
            {...bounded(printerSchema.shape.size)}
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
          {...bounded(printerSchema.shape.margin)}
          onCommit={(margin) => set('Printer margin', { margin })}
        />
        <NumberField
          label="Nozzle or finest wall"
          value={printer.nozzle}
          step={0.1}
          {...bounded(printerSchema.shape.nozzle)}
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

import { newerOf, printerOf } from '../../equipment/fits.ts';
import { PRINTERS } from '../../equipment/printers.ts';
import { useEquipment } from '../../equipment/use-equipment.ts';
import { useProject } from '../../project/project.tsx';
import { Button } from '../../ui/button.tsx';
import { DropMenu } from '../../ui/menu.tsx';

/** The printers that pieces are spread over: the main one, and others beside it. */
export function PrintersInUse() {
  const { plan, change } = useProject();
  const { equipment } = useEquipment();
  const own = equipment.printers.flatMap((p) =>
    (p.materials.length > 0 ? p.materials.map((m) => m.name) : [undefined]).slice(0, 1).map((m) => printerOf(p, m)),
  );
  const names = new Set([plan.printer, ...plan.printers].map((p) => p.name));
  const list = [...own, ...PRINTERS.filter((p) => !own.some((o) => o.name === p.name))].filter(
    (p) => !names.has(p.name),
  );
  return (
    <section aria-label="Printers in use" className="mt-4">
      <h2 className="mb-1 text-base">Printers in use</h2>
      <ul>
        {[plan.printer, ...plan.printers].map((p, i) => (
          <li key={p.name} className="flex min-h-[34px] items-center justify-between gap-2 border-rule border-b py-0.5">
            <span className="min-w-0">
              <span className="block truncate">{p.name}</span>
              <span className="num block text-[12px] text-ink-soft">{p.size.join(' × ')}</span>
            </span>
            {newerOf(equipment, p) && (
              <Button
                className="h-7"
                aria-label={`Bring ${p.name} up to date`}
                onClick={() => {
                  const newer = newerOf(equipment, p)!;
                  change(`Bring ${p.name} up to date`, (now) => ({
                    do: 'set',
                    set:
                      i === 0
                        ? { printer: newer }
                        : { printers: now.printers.map((q) => (q.name === p.name ? newer : q)) },
                  }));
                }}
              >
                Update
              </Button>
            )}
            {i > 0 && (
              <Button
                className="h-7"
                aria-label={`Use ${p.name} no more`}
                onClick={() =>
                  change(`Use ${p.name} no more`, (now) => ({
                    do: 'set',
                    set: { printers: now.printers.filter((q) => q.name !== p.name) },
                  }))
                }
              >
                Remove
              </Button>
            )}
          </li>
        ))}
      </ul>
      <div className="mt-2">
        <DropMenu
          label="Use another printer"
          entries={list.map((p) => ({
            title: `${p.name}: ${p.size.join(' × ')}`,
            run: () =>
              void change(`Use ${p.name} too`, (now) => ({ do: 'set', set: { printers: [...now.printers, p] } })),
          }))}
        />
      </div>
    </section>
  );
}

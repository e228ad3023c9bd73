import { sticksFor, sticksWords } from '@gephyra/core/plan';
import { Download } from 'lucide-react';
import type { LooseView } from '../../engine/types.ts';
import { useProject } from '../../project/project.tsx';
import { saveFile } from '../../ui/save-file.ts';

/** The loose parts as a table for a spreadsheet: one line each, what it is first. */
export function looseCsv(parts: readonly LooseView[]): string {
  const cell = (x: string | number): string => (typeof x === 'number' ? String(x) : `"${x.replace(/"/g, '""')}"`);
  const rows = parts.map((p) => [
    p.count,
    p.what,
    p.length ?? '',
    p.printed ? 'printed' : 'to cut or buy',
    p.joints.join(' '),
  ]);
  return `${[['count', 'what', 'length mm', 'made', 'joints'], ...rows].map((r) => r.map(cell).join(',')).join('\r\n')}\r\n`;
}

/** Rods and magnets that go between the pieces: how many, how long. */
export function LooseList() {
  const { view, project } = useProject();
  const parts = view?.loose ?? [];
  if (parts.length === 0) return null;
  return (
    <section aria-label="Loose parts" className="mt-4">
      <div className="mb-1 flex items-baseline justify-between">
        <h2 className="text-base">Loose parts</h2>
        <button
          type="button"
          className="flex items-center gap-1 text-lapis text-sm underline underline-offset-2"
          onClick={() =>
            saveFile(`${project.name.replace(/[^\w -]/g, '')} loose parts.csv`, looseCsv(parts), 'text/csv')
          }
        >
          <Download size={13} aria-hidden /> CSV
        </button>
      </div>
      <table className="w-full text-[13px]">
        <thead className="sr-only">
          <tr>
            <th>How many</th>
            <th>What</th>
            <th>Length</th>
          </tr>
        </thead>
        <tbody>
          {parts.map((p) => (
            <tr key={`${p.what} ${p.length}`} className="border-rule border-t">
              <td className="num whitespace-nowrap py-1 pr-2">{p.count} ×</td>
              <td className="py-1">{p.what}</td>
              <td className="num py-1 text-right">{p.length === null ? '' : `${p.length.toFixed(1)}`}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {sticksFor(parts).map((s) => (
        <p key={s.what} className="mt-1 text-ink-soft text-sm">
          {s.what}: {sticksWords(s)} to buy
        </p>
      ))}
    </section>
  );
}

import { pieceColour } from '@gephyra/core';
import { useState } from 'react';
import type { PieceView } from '../engine/types.ts';
import { useProject } from '../plan/project.tsx';
import { overText } from '../shell/shelf.tsx';
import { useSelection, useWorkspace } from '../shell/workspace-state.tsx';
import { Button } from '../ui/button.tsx';
import { Ledger } from './panels.tsx';

type Column = 'code' | 'name' | 'size' | 'fits' | 'volume' | 'closed' | 'joints' | 'findings';

const COLUMNS: readonly { id: Column; title: string; right?: boolean }[] = [
  { id: 'code', title: 'Code' },
  { id: 'name', title: 'Where' },
  { id: 'size', title: 'Size, mm', right: true },
  { id: 'fits', title: 'Fits' },
  { id: 'volume', title: 'cm³', right: true },
  { id: 'closed', title: 'Watertight' },
  { id: 'joints', title: 'Joints', right: true },
  { id: 'findings', title: 'Findings', right: true },
];

/** The table of pieces. */
export default function PiecesStation() {
  const { view } = useProject();
  const { open } = useWorkspace();
  const [sort, setSort] = useState<{ by: Column; down: boolean }>({ by: 'code', down: false });
  const [{ piece: selected }, select] = useSelection();
  const pieces = view?.pieces ?? [];
  const findings = (p: PieceView): number =>
    view?.findings.filter(
      (f) => f.where.piece === p.key || view.faces.find((x) => x.id === f.where.face)?.pieces.includes(p.key),
    ).length ?? 0;
  const cellOf = (p: PieceView, column: Column): number | string => {
    switch (column) {
      case 'code':
        return pieces.indexOf(p);
      case 'name':
        return p.name;
      case 'size':
        return Math.max(...p.size);
      case 'fits':
        return p.fit.fits ? 1 : 0;
      case 'volume':
        return p.volume;
      case 'closed':
        return p.closed ? 1 : 0;
      case 'joints':
        return p.joints.length;
      case 'findings':
        return findings(p);
    }
  };
  const sorted = [...pieces].sort((a, b) => {
    const [x, y] = [cellOf(a, sort.by), cellOf(b, sort.by)];
    return (x < y ? -1 : x > y ? 1 : 0) * (sort.down ? -1 : 1);
  });
  return (
    <Ledger
      title="Pieces"
      action={
        <Button look="main" disabled={pieces.length === 0} onClick={() => open('export')}>
          Export pieces
        </Button>
      }
    >
      <table className="w-full border-collapse">
        <thead>
          <tr className="border-ink border-b text-left text-sm">
            {COLUMNS.map((c) => (
              <th
                key={c.id}
                scope="col"
                aria-sort={sort.by === c.id ? (sort.down ? 'descending' : 'ascending') : 'none'}
                className={`py-1 pr-2 font-normal last:pr-0 ${c.right ? 'text-right' : ''}`}
              >
                <button
                  type="button"
                  className="text-ink-soft hover:text-ink"
                  onClick={() => setSort({ by: c.id, down: sort.by === c.id && !sort.down })}
                >
                  {c.title}
                  <span aria-hidden>{sort.by === c.id ? (sort.down ? ' ↓' : ' ↑') : ''}</span>
                </button>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {sorted.map((p) => {
            const i = pieces.indexOf(p);
            const n = findings(p);
            return (
              <tr key={p.key} className={`border-rule border-b ${selected === p.key ? 'bg-lapis-wash' : ''}`}>
                <th scope="row" className="py-1.5 pr-2 text-left font-semibold">
                  <button
                    type="button"
                    aria-pressed={selected === p.key}
                    className="flex items-center gap-1.5"
                    onClick={() => select({ piece: selected === p.key ? null : p.key })}
                  >
                    <span aria-hidden className="h-3 w-3" style={{ background: pieceColour(i) }} />
                    {p.code}
                  </button>
                </th>
                <td className="pr-2">{p.name}</td>
                <td className="num whitespace-nowrap pr-2 text-right">{p.size.map((x) => x.toFixed(1)).join(' × ')}</td>
                <td className={`whitespace-nowrap pr-2 ${p.fit.fits ? 'text-good' : 'text-stop'}`}>
                  {p.fit.fits ? (p.fit.axes.join() === '0,1,2' ? 'upright' : 'turned') : overText(p)}
                </td>
                <td className="num pr-2 text-right">{(p.volume / 1000).toFixed(1)}</td>
                <td className={`pr-2 ${p.closed ? 'text-good' : 'text-stop'}`}>{p.closed ? 'yes' : 'open'}</td>
                <td className="num pr-2 text-right">{p.joints.length}</td>
                <td
                  className={`num text-right ${p.stops.length > 0 ? 'text-stop' : n > 0 ? 'text-warn' : 'text-good'}`}
                >
                  {n === 0 ? 'none' : n}
                </td>
              </tr>
            );
          })}
        </tbody>
        {pieces.length > 1 && (
          <tfoot>
            <tr className="text-ink-soft">
              <td className="py-1.5" colSpan={4}>
                {pieces.length} pieces, {pieces.filter((p) => p.fit.fits).length} fit
              </td>
              <td className="num pr-2 text-right">
                {(pieces.reduce((sum, p) => sum + p.volume, 0) / 1000).toFixed(1)}
              </td>
              <td colSpan={3} />
            </tr>
          </tfoot>
        )}
      </table>
      {pieces.length === 0 && <p className="mt-3 text-ink-soft">The pieces are being computed.</p>}
    </Ledger>
  );
}

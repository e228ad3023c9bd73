import { pieceColour } from '@gephyra/core';
import { useState } from 'react';
import type { PieceView } from '../../engine/types.ts';
import { usePieceOffers } from '../../project/piece-offers.ts';
import { overText } from '../../project/piece-words.ts';
import { useProject } from '../../project/project.tsx';
import { useSelection, useWorkspace } from '../../project/selection.tsx';
import { Button } from '../../ui/button.tsx';
import { Offers } from '../../ui/menu.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Ledger } from '../../ui/panels.tsx';
import { Pick } from '../../ui/pick.tsx';
import { Rename } from '../../ui/rename.tsx';
import { Tick } from '../../ui/tick.tsx';

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
  const { view, plan, change, alike } = useProject();
  const { open } = useWorkspace();
  const [sort, setSort] = useState<{ by: Column; down: boolean }>({ by: 'code', down: false });
  const [{ piece: selected }, select] = useSelection();
  const offers = usePieceOffers();
  const pieces = view?.pieces ?? [];
  const chosen = pieces.find((p) => p.key === selected);
  const codeOf = (key: string): string => pieces.find((p) => p.key === key)?.code ?? key;
  const cellOf = (p: PieceView, column: Column): number | string => {
    switch (column) {
      case 'code':
        return pieces.indexOf(p);
      case 'name':
        return p.name;
      case 'size':
        return Math.max(...p.size);
      case 'fits':
        return p.build.within ? 1 : 0;
      case 'volume':
        return p.volume;
      case 'closed':
        return p.closed ? 1 : 0;
      case 'joints':
        return p.joints.length;
      case 'findings':
        return p.findings;
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
      <div className="slim-scroll overflow-x-auto">
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
              const n = p.findings;
              return (
                <Offers key={p.key} entries={offers(p)}>
                  <tr className={`border-rule border-b ${selected === p.key ? 'bg-lapis-wash' : ''}`}>
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
                    <td className={`pr-2 ${p.aside ? 'text-ink-soft line-through' : ''}`}>
                      {p.name}
                      <FileNote piece={p} />
                    </td>
                    <td className="num whitespace-nowrap pr-2 text-right">
                      {p.size.map((x) => x.toFixed(1)).join(' × ')}
                    </td>
                    <td className={`whitespace-nowrap pr-2 ${p.build.within ? 'text-good' : 'text-stop'}`}>
                      {p.build.within ? (p.build.axes.join() === '0,1,2' ? 'upright' : 'turned') : overText(p)}
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
                </Offers>
              );
            })}
          </tbody>
          {pieces.length > 1 && (
            <tfoot>
              <tr className="text-ink-soft">
                <td className="py-1.5" colSpan={4}>
                  {pieces.length} pieces, {pieces.filter((p) => p.build.within).length} fit
                </td>
                <td className="num pr-2 text-right">
                  {(pieces.reduce((sum, p) => sum + p.volume, 0) / 1000).toFixed(1)}
                </td>
                <td colSpan={3} />
              </tr>
            </tfoot>
          )}
        </table>
      </div>
      {pieces.length > 1 && (
        <div className="mt-3 flex flex-wrap items-end gap-x-4 gap-y-2">
          <div className="w-44">
            <NumberField
              label="Equal when they differ by at most"
              min={0}
              max={5}
              digits={3}
              step={0.01}
              value={plan.alike}
              onCommit={(x) => change('Set what counts as equal', { do: 'set', set: { alike: x } })}
            />
          </div>
          <p className="pb-1.5 text-ink-soft">
            {alike.groups.length === 0
              ? 'No two pieces are equal.'
              : alike.groups
                  .map(
                    (g) =>
                      `${1 + g.same.length + g.mirrored.length} × ${codeOf(g.first)}, within ${g.deviation.toFixed(3)} mm`,
                  )
                  .join('; ')}
          </p>
        </div>
      )}
      {chosen && <PieceNotes piece={chosen} />}
      {pieces.length === 0 && <p className="mt-3 text-ink-soft">The pieces are being computed.</p>}
    </Ledger>
  );
}

/** Which other piece's file a piece is made from. */
function FileNote({ piece }: { piece: PieceView }) {
  const { view, alike } = useProject();
  const code = (key: string): string => view?.pieces.find((p) => p.key === key)?.code ?? key;
  const declared = alike.declared.find((d) => d.key === piece.key);
  const group = alike.groups.find((g) => g.same.includes(piece.key) || g.mirrored.includes(piece.key));
  const lead = alike.groups.find((g) => g.first === piece.key);
  const text = piece.aside
    ? 'set aside'
    : declared
      ? `made as ${code(declared.of)}${declared.mirrored ? ', mirrored' : ''}; differs by ${declared.deviation.toFixed(2)} mm`
      : group
        ? `same file as ${code(group.first)}${group.mirrored.includes(piece.key) ? ', mirrored' : ''}`
        : lead
          ? `${1 + lead.same.length + lead.mirrored.length} × this file`
          : '';
  return text ? <span className="block text-ink-soft text-sm no-underline">{text}</span> : null;
}

/** What the maker says of a piece: its name, whether it is made, and whose copy it is. */
function PieceNotes({ piece }: { piece: PieceView }) {
  const { plan, view, change } = useProject();
  const note = plan.pieces.find((n) => n.key === piece.key);
  const body = view?.bodies.find((b) => b.id === piece.body);
  const set = (label: string, next: Record<string, unknown>) =>
    change(label, { do: 'setPiece', key: piece.key, set: next });
  const others = view?.pieces.filter((p) => p.key !== piece.key) ?? [];
  return (
    <section aria-label={`About ${piece.code}`} className="mt-4 border-rule border-t pt-3">
      <h2 className="mb-2 text-base">
        {piece.code} {piece.name}
      </h2>
      <div className="grid grid-cols-2 gap-3">
        <div>
          <span aria-hidden className="mb-0.5 block text-ink-soft text-sm">
            Own name
          </span>
          <Rename
            value={note?.name ?? ''}
            label="Own name of the piece"
            placeholder={piece.name}
            framed
            className="h-[30px] w-full"
            onCommit={(name) => set(`Name ${piece.code} ${name}`, { name })}
          />
        </div>
        <div>
          <span aria-hidden className="mb-0.5 block text-ink-soft text-sm">
            Code of {body?.name ?? 'the body'}
          </span>
          <Rename
            value={plan.bodies.find((b) => b.id === piece.body)?.code ?? ''}
            label={`Code of ${body?.name ?? 'the body'}`}
            placeholder={piece.code.replace(/\d+$/, '')}
            framed
            className="h-[30px] w-full"
            onCommit={(code) =>
              change(`Give ${body?.name ?? 'the body'} the code ${code}`, {
                do: 'setBody',
                id: piece.body,
                set: { code },
              })
            }
          />
        </div>
        <Pick
          label="Made as a copy of"
          value={note?.copyOf?.key ?? ''}
          options={[
            { value: '', label: 'nothing, as it is' },
            ...others.map((p) => ({ value: p.key, label: `${p.code} ${p.name}` })),
          ]}
          onChange={(key) =>
            set(key ? `Make ${piece.code} as a copy` : `Make ${piece.code} as it is`, {
              copyOf: key ? { key, mirrored: note?.copyOf?.mirrored ?? false } : undefined,
            })
          }
        />
        <div className="flex flex-col justify-end gap-1.5 pb-1">
          {note?.copyOf && (
            <Tick
              checked={note.copyOf.mirrored}
              onChange={(mirrored) => set(`Mirror ${piece.code}`, { copyOf: { ...note.copyOf, mirrored } })}
            >
              mirrored
            </Tick>
          )}
          <Tick
            checked={piece.aside}
            onChange={(aside) => set(aside ? `Set ${piece.code} aside` : `Make ${piece.code}`, { aside })}
          >
            set aside, not made
          </Tick>
        </div>
      </div>
    </section>
  );
}

import { planSchema } from '@gephyra/core/plan';
import type { PieceView } from '../../engine/types.ts';
import { useProject } from '../../project/project.tsx';
import { bounded } from '../../ui/bounded.ts';
import { NumberField } from '../../ui/number-field.tsx';
import { Pick } from '../../ui/pick.tsx';
import { Rename } from '../../ui/rename.tsx';
import { Tick } from '../../ui/tick.tsx';
import { StuffFields } from './stuff-fields.tsx';

/** What the maker says of a piece: its name, whether it is made, and whose copy it is. */
export function PieceNotes({ piece }: { piece: PieceView }) {
  const { plan, view, change } = useProject();
  const note = plan.pieces.find((n) => n.key === piece.key);
  const body = view?.bodies.find((b) => b.id === piece.body);
  const set = (label: string, next: Record<string, unknown>) =>
    change(label, { do: 'setPiece', key: piece.key, set: next });
  const others = view?.pieces.filter((p) => p.key !== piece.key) ?? [];
  return (
    <section aria-label={`About ${piece.code}`} className="pt-3">
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
        <NumberField
          label="Copies"
          unit=""
          digits={0}
          {...bounded(planSchema.shape.pieces.unwrap().element.shape.copies)}
          value={note?.copies ?? 1}
          onCommit={(x) => set(`Make ${Math.round(x)} of ${piece.code}`, { copies: Math.round(x) })}
        />
        <StuffFields keys={[piece.key]} name={piece.code} />
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

import { type BodyNote, freeId, withAlternate, withoutAlternate } from '@gephyra/core/plan';
import { Eye, EyeOff, Lock, LockOpen, Trash2 } from 'lucide-react';
import type { BodyView } from '../../engine/types.ts';
import { useProject } from '../../project/project.tsx';
import { useSelection } from '../../project/selection.tsx';
import { Button } from '../../ui/button.tsx';
import { type MenuEntry, Offers } from '../../ui/menu.tsx';
import { Pick } from '../../ui/pick.tsx';
import { Rename } from '../../ui/rename.tsx';

/** The bodies of the model, by group: size, health, and what may be done with each. */
export function BodyList() {
  const { plan, view, change, candidate, busy } = useProject();
  const [{ body: chosen }, select] = useSelection();
  const bodies = view?.bodies ?? [];
  const noteOf = (id: string): BodyNote | undefined => plan.bodies.find((b) => b.id === id);
  const groups = new Map<string, BodyView[]>();
  for (const b of bodies) {
    const group = noteOf(b.id)?.group ?? '';
    groups.set(group, [...(groups.get(group) ?? []), b]);
  }
  return (
    <>
      <h2 className="mb-1 text-base">{bodies.length === 1 ? 'One body' : `${bodies.length} bodies`}</h2>
      {candidate && !busy && (
        <p className="mb-1 bg-lapis-wash px-2 py-1 text-sm">As they would be: the preview is not taken yet.</p>
      )}
      {[...groups].map(([group, list]) => (
        <div key={group}>
          {group !== '' && <h3 className="mt-2 text-ink-soft text-sm">{group}</h3>}
          <ul className="border-rule border-t" aria-label={group || 'Bodies'}>
            {list.map((b) => (
              <BodyRow
                key={b.id}
                body={b}
                note={noteOf(b.id)}
                selected={b.id === chosen}
                onSelect={() => select({ body: b.id === chosen ? null : b.id })}
                onSet={(label, set) => change(label, { do: 'setBody', id: b.id, set })}
              />
            ))}
          </ul>
        </div>
      ))}
    </>
  );
}

interface RowProps {
  readonly body: BodyView;
  readonly note: BodyNote | undefined;
  readonly selected: boolean;
  onSelect(): void;
  onSet(label: string, set: Partial<Omit<BodyNote, 'id'>>): void;
}

function BodyRow({ body, note, selected, onSelect, onSet }: RowProps) {
  const { plan, change, view } = useProject();
  const name = note?.name || body.name;
  const size = body.box.max.map((x, a) => x - body.box.min[a]);
  const hide = (): void => onSet(`${note?.hidden ? 'Show' : 'Hide'} ${name}`, { hidden: !note?.hidden });
  const lock = (): void => onSet(`${note?.locked ? 'Unlock' : 'Lock'} ${name}`, { locked: !note?.locked });
  const fixed = note?.locked || (view?.bodies.length ?? 0) < 2;
  const drop = (): void => void change(`Drop ${name}`, { do: 'addStep', step: { kind: 'remove', on: [body.id] } });
  const set = plan.alternates.find((s) => s.bodies.includes(body.id));
  const insteadOf = (other: string): void =>
    void change(other === '' ? `${name} is no alternate` : `${name} or ${nameOf(other)}`, {
      do: 'set',
      set: {
        alternates:
          other === ''
            ? withoutAlternate(plan.alternates, body.id)
            : withAlternate(plan.alternates, other, body.id, freeId('n', plan.alternates)),
      },
    });
  const nameOf = (id: string): string =>
    plan.bodies.find((b) => b.id === id)?.name || view?.bodies.find((b) => b.id === id)?.name || id;
  const offers: readonly MenuEntry[] = [
    { title: note?.hidden ? 'Show it' : 'Hide it', run: hide },
    { title: note?.locked ? 'Unlock it' : 'Lock it', run: lock },
    { title: 'Drop it', danger: true, apart: true, off: fixed, run: drop },
  ];
  return (
    <Offers entries={offers}>
      <li className={`border-rule border-b py-1.5 ${selected ? '-mx-2 bg-lapis-wash px-2' : ''}`}>
        <button type="button" className="block w-full text-left" aria-pressed={selected} onClick={onSelect}>
          <span className="flex items-baseline justify-between gap-2">
            <span className={`flex min-w-0 items-baseline gap-1.5 ${note?.hidden ? 'text-ink-soft' : ''}`}>
              {body.colour && (
                <svg aria-hidden="true" className="h-2.5 w-2.5 shrink-0" viewBox="0 0 10 10">
                  <rect width="10" height="10" fill={body.colour} stroke="var(--color-ink)" strokeWidth="1" />
                </svg>
              )}
              <span className="truncate font-semibold">{name}</span>
            </span>
            <span className={body.closed ? 'text-good' : 'text-stop'}>{body.closed ? 'closed' : 'open'}</span>
          </span>
          <span className="num block text-[12px] text-ink-soft leading-5">
            {size.map((x) => x.toFixed(1)).join(' × ')} mm
            <br />
            {body.triangles.toLocaleString('en')} triangles
            {body.closed ? `, ${(body.volume / 1000).toFixed(1)} cm³` : `, ${body.openEdges} open edges`}
            {note?.locked ? ', locked' : ''}
            {note?.hidden ? ', hidden' : ''}
            {set ? `, one of ${set.bodies.length} alternates` : ''}
          </span>
        </button>
        {selected && (
          <div className="mt-1 flex flex-col gap-1.5">
            <Rename
              value={name}
              label="Name of the body"
              className="h-[28px] w-full"
              framed
              onCommit={(next) => onSet(`Rename ${name} to ${next}`, { name: next })}
            />
            <Rename
              value={note?.group || 'no group'}
              label="Group of the body"
              className="h-[28px] w-full"
              framed
              onCommit={(group) => onSet(`Put ${name} into ${group}`, { group: group === 'no group' ? '' : group })}
            />
            {(view?.bodies.length ?? 0) > 1 && (
              <Pick
                label="Takes the place of"
                value={set?.bodies.find((b) => b !== body.id) ?? ''}
                options={[
                  { value: '', label: 'none' },
                  ...(view?.bodies.filter((b) => b.id !== body.id).map((b) => ({ value: b.id, label: nameOf(b.id) })) ??
                    []),
                ]}
                onChange={insteadOf}
              />
            )}
            <div className="flex flex-wrap gap-1">
              <Button className="h-7 px-2 text-sm" onClick={hide}>
                {note?.hidden ? <Eye size={13} aria-hidden /> : <EyeOff size={13} aria-hidden />}
                {note?.hidden ? 'show' : 'hide'}
              </Button>
              <Button className="h-7 px-2 text-sm" onClick={lock}>
                {note?.locked ? <LockOpen size={13} aria-hidden /> : <Lock size={13} aria-hidden />}
                {note?.locked ? 'unlock' : 'lock'}
              </Button>
              <Button className="h-7 px-2 text-sm text-stop" disabled={fixed} onClick={drop}>
                <Trash2 size={13} aria-hidden /> drop
              </Button>
            </div>
          </div>
        )}
      </li>
    </Offers>
  );
}

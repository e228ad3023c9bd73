import type { Joint, JointKind, SeatNote } from '@gephyra/core/plan';
import { useState } from 'react';
import type { FaceView } from '../../engine/types.ts';
import { useProject } from '../../project/project.tsx';
import { type Searching, useSearch } from '../../project/use-search.ts';
import { Button } from '../../ui/button.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Pick } from '../../ui/pick.tsx';
import { useToasts } from '../../ui/toasts.tsx';
import { KINDS } from './kinds.ts';

/** Seats joints by themselves: on all bare faces, on those of a seam, on one. Says of each what it got, or why nothing. */
export function useSeat(): {
  readonly busy: boolean;
  readonly searching: Searching | null;
  readonly notes: ReadonlyMap<string, SeatNote>;
  seat(label: string, faces: readonly string[] | null, kind: JointKind | 'auto', spacing: number): Promise<void>;
} {
  const { plan, view, change } = useProject();
  const { searching, search } = useSearch();
  const toasts = useToasts();
  const [notes, setNotes] = useState<ReadonlyMap<string, SeatNote>>(new Map());
  return {
    busy: searching !== null,
    searching,
    notes,
    seat: async (label, faces, kind, spacing) => {
      if (!view) return;
      try {
        // what is there already makes room
        const gone = faces ? view.joints.filter((j) => j.face !== null && faces.includes(j.face)).map((j) => j.id) : [];
        const cleared = {
          ...plan,
          joints: plan.joints.filter((j) => !gone.includes(j.id)),
          contacts: [...view.contacts],
        };
        // what is seated anew keeps the gap it was given
        const keep: Record<string, Pick<Joint, 'fit' | 'gap'>> = {};
        for (const { id, face } of view.joints) {
          const own = gone.includes(id) && plan.joints.find((j) => j.id === id);
          if (own && face) keep[face] ??= { fit: own.fit, ...(own.gap !== undefined && { gap: own.gap }) };
        }
        const seating = await search('Looking for the mirror plane', (engine, tell) =>
          engine.seat(cleared, { faces, kind, spacing, keep }, tell),
        );
        if (!seating) return;
        setNotes((old) => new Map([...old, ...seating.notes.map((n) => [n.face, n] as const)]));
        const none = seating.notes.filter((n) => n.joints.length === 0);
        if (seating.joints.length > 0) {
          change(
            label,
            { do: 'addContacts', contacts: view.contacts },
            { do: 'removeJoints', ids: gone },
            { do: 'addJoints', joints: seating.joints },
          );
        }
        toasts.say({
          text:
            seating.notes.length === 0
              ? 'Every face has joints already.'
              : `${seating.joints.length === 1 ? '1 joint' : `${seating.joints.length} joints`} on ${seating.notes.length - none.length} of ${seating.notes.length} faces.${none.length > 0 ? ` ${none[0].why}` : ''}`,
          tone: none.length > 0 ? 'warn' : 'plain',
        });
      } catch (error) {
        toasts.say({ text: (error as Error).message, tone: 'stop' });
      }
    },
  };
}

/** Seating for the open face and its seam. */
export function SeatPanel({ face, seatings }: { face: FaceView; seatings: ReturnType<typeof useSeat> }) {
  const { view } = useProject();
  const [kind, setKind] = useState<JointKind | 'auto'>('auto');
  const [spacing, setSpacing] = useState(40);
  const note = seatings.notes.get(face.id);
  const here = view?.joints.filter((j) => j.face === face.id).length ?? 0;
  const ofSeam = view?.faces.filter((f) => f.seam === face.seam && f.alternate === undefined) ?? [];
  return (
    <div className="flex flex-col gap-2">
      <div className="grid grid-cols-2 gap-2">
        <Pick
          label="Seat"
          value={kind}
          options={[{ value: 'auto' as const, label: 'what suits' }, ...KINDS]}
          onChange={(next) => setKind(next)}
        />
        <NumberField label="Along walls every" value={spacing} min={5} max={500} step={5} onCommit={setSpacing} />
      </div>
      <div className="flex flex-wrap gap-1.5">
        <Button disabled={seatings.busy} onClick={() => void seatings.seat('Seat a face', [face.id], kind, spacing)}>
          {here > 0 ? 'Seat this face anew' : 'Seat this face'}
        </Button>
        {ofSeam.length > 1 && (
          <Button
            disabled={seatings.busy}
            onClick={() =>
              void seatings.seat(
                'Seat a seam',
                ofSeam.map((f) => f.id),
                kind,
                spacing,
              )
            }
          >
            All {ofSeam.length} of its seam
          </Button>
        )}
      </div>
      {note && (
        <p className={note.joints.length > 0 ? 'text-ink-soft' : 'text-warn'} role="status">
          {note.why} {note.help}
        </p>
      )}
    </div>
  );
}

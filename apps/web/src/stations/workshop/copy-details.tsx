import type { CopyProgress, SalvageJoin } from '@gephyra/core/plan';
import { format, parseISO } from 'date-fns';
import { useState } from 'react';
import type { PieceView } from '../../engine/types.ts';
import { Button } from '../../ui/button.tsx';
import { Choice } from '../../ui/choice.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Facts, Part } from '../../ui/panels.tsx';
import { STATE_WORDS } from './bench.ts';

/** One copy of a piece: how far it is, and where a print of it is told to have failed. */
export function CopyDetails({
  row,
  piece,
  onFail,
  onSave,
  file,
  saving,
}: {
  row: CopyProgress;
  piece: PieceView;
  onFail(failed: { height?: number; why: string }): void;
  /** the lower part is kept up to a height, and the rest joined to it */
  onSave(height: number, join: SalvageJoin): void;
  /** where the file is that its bed was printed from */
  readonly file: string | null;
  readonly saving: boolean;
}) {
  const tall = Math.max(...piece.size);
  const [height, setHeight] = useState(0);
  const [why, setWhy] = useState('');
  const [filed, setFiled] = useState(2);
  const [join, setJoin] = useState<SalvageJoin>('glue');
  const failedAt = row.failed?.height ?? null;
  const made = row.state !== 'toPrint';
  return (
    <Part title={`${piece.code} ${piece.name}`} note={row.copy > 1 ? `copy ${row.copy}` : undefined}>
      <Facts
        rows={[
          ['is', STATE_WORDS[row.state]],
          ['since', row.since ? format(parseISO(row.since), 'd MMM, HH:mm') : 'the start'],
          ['failed prints', String(row.failures)],
        ]}
      />
      {file && (
        <p className="mt-1">
          <a className="text-lapis underline underline-offset-2" href={file} download>
            Its bed as it was printed
          </a>
        </p>
      )}
      {failedAt !== null && row.state === 'toPrint' && (
        <div className="mt-3 flex flex-col gap-2">
          <p>
            The lower <span className="num">{Math.max(0, failedAt - filed).toFixed(0)} mm</span> are good. The rest can
            be a piece of its own, parted square to the way it prints, lower where a joint is in the way. It gets a bed
            of its own.
          </p>
          <NumberField label="Filed off the break" value={filed} min={0} max={50} step={0.5} onCommit={setFiled} />
          <Choice<SalvageJoin>
            label="The rest is joined"
            value={join}
            options={[
              { value: 'glue', label: 'with glue' },
              { value: 'dowel', label: 'with dowels' },
            ]}
            onChange={setJoin}
          />
          {join === 'dowel' && (
            <p className="text-ink-soft text-sm">Drill their holes into the part that is printed already.</p>
          )}
          <Button look="main" disabled={saving} onClick={() => onSave(failedAt - filed, join)}>
            Save the rest
          </Button>
        </div>
      )}
      {made && (
        <div className="mt-3 flex flex-col gap-2">
          <NumberField label="Height at which it failed" value={height} min={0} max={tall} onCommit={setHeight} />
          <label className="block">
            <span className="mb-0.5 block text-ink-soft text-sm">Why</span>
            <input
              className="h-[30px] w-full rounded border border-rule-strong bg-sheet px-2"
              value={why}
              maxLength={300}
              placeholder="came off the bed"
              onChange={(e) => setWhy(e.target.value)}
            />
          </label>
          <Button
            look="danger"
            onClick={() => {
              onFail({ ...(height > 0 && { height }), why });
              setHeight(0);
              setWhy('');
            }}
          >
            It failed, print it again
          </Button>
        </div>
      )}
    </Part>
  );
}

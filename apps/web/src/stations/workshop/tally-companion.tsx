import { copyKey, type PieceState, STATES } from '@gephyra/core/plan';
import { useState } from 'react';
import { useSelection } from '../../project/selection.tsx';
import { isUnderWay } from '../../project/use-bed-prints.ts';
import { Button } from '../../ui/button.tsx';
import { Companion } from '../../ui/panels.tsx';
import { Pick } from '../../ui/pick.tsx';
import { STATE_WORDS } from './bench.ts';
import { Tally } from './tally.tsx';
import type { BenchActs } from './use-bench-acts.ts';
import type { Standing } from './use-standing.ts';

/** The tally under the view, and what sets all ticked copies at once. */
export function TallyCompanion({ standing, acts }: { standing: Standing; acts: BenchActs }) {
  const { progress, groups, byKey, chosenKey } = standing;
  const [, select] = useSelection();
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
  const [to, setTo] = useState<PieceState>('printed');
  const setAll = (): void => {
    acts.note(
      progress.filter((p) => ticked.has(copyKey(p.piece, p.copy)) && p.state !== to),
      to,
    );
    setTicked(new Set());
  };
  const tick = (keys: readonly string[], on: boolean): void => {
    const set = new Set(ticked);
    for (const k of keys) {
      if (on) set.add(k);
      else set.delete(k);
    }
    setTicked(set);
  };
  return (
    <Companion
      title="Tally"
      note={
        <span className="flex items-center gap-2">
          <span className="num">{ticked.size}</span> ticked
          <Pick
            hideLabel
            inline
            label="Set the ticked to"
            value={to}
            options={STATES.map((value) => ({ value, label: STATE_WORDS[value] }))}
            onChange={(x) => setTo(x)}
          />
          <Button className="h-7" disabled={ticked.size === 0} onClick={setAll}>
            Set
          </Button>
        </span>
      }
    >
      <Tally
        groups={groups}
        pieceOf={(key) => byKey.get(key)}
        printOf={(bed) => acts.prints.find((p) => p.bed === bed && isUnderWay(p))}
        ticked={ticked}
        chosen={chosenKey}
        onTick={tick}
        onChoose={(row) => select({ piece: row.piece, copy: String(row.copy) })}
        onMove={(rows, state, bed) => acts.note(rows, state, bed === undefined ? {} : { bed })}
      />
    </Companion>
  );
}

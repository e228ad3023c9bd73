import { routes } from '@gephyra/contract';
import { type CopyProgress, isListedAt } from '@gephyra/core/plan';
import { Findings } from '../../project/findings.tsx';
import { useProject } from '../../project/project.tsx';
import { Ledger, Part, Side } from '../../ui/panels.tsx';
import { CopyDetails } from './copy-details.tsx';
import { Days } from './days-chart.tsx';
import { LeftToPrint } from './left-to-print.tsx';
import { Printers } from './printers.tsx';
import { TallyCompanion } from './tally-companion.tsx';
import { useBenchActs } from './use-bench-acts.ts';
import { useStanding } from './use-standing.ts';
import { WhatComesNext } from './what-comes-next.tsx';
import { WhatHappened } from './what-happened.tsx';

/** Where the build stands, copy by copy: noted by hand, undone like any change; what comes next, what is left, what happened. */
export default function WorkshopStation() {
  const { plan, view } = useProject();
  const standing = useStanding();
  const acts = useBenchActs(standing);
  const { progress, tally, chosen, chosenKey, log, copies } = standing;
  const chosenPiece = chosen && standing.byKey.get(chosen.piece);
  const fileOf = (row: CopyProgress): string | null => {
    const last = acts.prints.findLast((p) => p.pieces.some((x) => x.piece === row.piece && x.copy === row.copy));
    return last ? routes.printFile(last.id) : null;
  };
  return (
    <>
      <Ledger title="Workshop">
        {progress.length === 0 ? (
          <p className="text-ink-soft" role="status">
            {view?.pieces.every((p) => p.aside)
              ? 'Every piece is set aside, so nothing is made.'
              : 'Hours and weights of the pieces are being reckoned.'}
          </p>
        ) : (
          <>
            <p className="mb-3">
              <span className="num">{tally.printed}</span> of <span className="num">{tally.copies}</span> printed,{' '}
              <span className="num">{tally.joined}</span> joined.
            </p>
            <WhatComesNext standing={standing} acts={acts} />
            {acts.wrong && (
              <p className="mb-3 text-stop" role="alert">
                {acts.wrong}
              </p>
            )}
            <Findings list={view?.findings.filter((f) => isListedAt('workshop', f)) ?? []} />
            <LeftToPrint tally={tally} />
            <WhatHappened {...standing} />
          </>
        )}
      </Ledger>
      {progress.length > 0 && <TallyCompanion standing={standing} acts={acts} />}
      <Side>
        {chosen && chosenPiece && (
          <CopyDetails
            key={chosenKey}
            row={chosen}
            piece={chosenPiece}
            onFail={(failed) => acts.note([chosen], 'toPrint', { failed })}
            onSave={(height, join) => void acts.save(chosen.piece, height, join)}
            file={fileOf(chosen)}
            saving={acts.saving}
          />
        )}
        <Printers
          printers={[plan.printer, ...plan.printers]}
          prints={acts.prints}
          simulation={acts.simulation}
          onSimulation={acts.setSimulation}
          onAct={(print, what) => acts.act(print.id, what)}
        />
        <Days log={log} copies={copies} />
        <Part title="Your name" note="goes into the log">
          <input
            aria-label="Your name"
            className="h-[30px] w-full rounded border border-rule-strong bg-sheet px-2"
            value={acts.who}
            maxLength={60}
            onChange={(e) => acts.setWho(e.target.value)}
          />
        </Part>
      </Side>
    </>
  );
}

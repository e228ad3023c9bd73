import { type AssemblyStep, hoursText, isListedAt, offsetsAt, type Thread, writtenOrder } from '@gephyra/core/plan';
import { Pause, Play } from 'lucide-react';
import { useCallback, useMemo, useRef } from 'react';
import { Link } from 'react-router';
import { Findings } from '../../project/findings.tsx';
import { useProject } from '../../project/project.tsx';
import { useSelection, useStationView, useWorkspace } from '../../project/selection.tsx';
import { Button } from '../../ui/button.tsx';
import { Companion, Ledger, Part, Side } from '../../ui/panels.tsx';
import { Slide } from '../../ui/slide.tsx';
import { ConfluenceDrawing } from './confluence.tsx';
import { ProposeOrder } from './propose-order.tsx';
import { StepDetails } from './step-details.tsx';
import { StepList } from './step-list.tsx';
import { useBuild } from './use-build.ts';
import { WhichIsOn } from './which-is-on.tsx';

const NONE: readonly AssemblyStep[] = [];
const NO_THREADS: readonly Thread[] = [];

/** The order of joining: proposed, changed by hand, checked step by step, and run in the view. */
export default function AssemblyStation() {
  const { project, plan, view, assembly } = useProject();
  const { open } = useWorkspace();
  const [{ step: chosenText }, select] = useSelection();
  const steps = assembly?.steps ?? NONE;
  const build = useBuild(steps.length);
  const pieces = useMemo(() => view?.pieces.filter((p) => !p.aside && !p.spare) ?? [], [view]);
  const order = useMemo(() => writtenOrder(assembly?.plan ?? plan, steps), [assembly?.plan, plan, steps]);
  const chosen = chosenText !== null && steps[Number(chosenText) - 1] ? Number(chosenText) - 1 : null;
  const codeOf = useCallback((key: string): string => view?.pieces.find((p) => p.key === key)?.code ?? key, [view]);
  const box = view?.box;
  const length = box ? Math.hypot(...box.max.map((x, a) => x - box.min[a])) : 0;
  useStationView(
    useMemo(
      () => ({
        build:
          steps.length > 0
            ? offsetsAt(
                steps,
                pieces.map((p) => p.key),
                build.moment,
                length,
              )
            : null,
      }),
      [steps, pieces, build.moment, length],
    ),
  );
  const newest = useRef({ chosen, select, go: build.go });
  newest.current = { chosen, select, go: build.go };
  // the same function for good: list and details are not drawn again for every moment of the build
  const choose = useCallback((step: number): void => {
    const { chosen: now, select: put, go } = newest.current;
    put({ step: step === now ? null : String(step + 1) });
    // just before it is joined
    if (step !== now) go(step + 0.25);
  }, []);
  const minutes = steps.reduce((s, step) => s + step.minutes, 0);
  const area = steps.reduce((s, step) => s + step.area, 0);
  return (
    <>
      <Ledger title="Assembly" filled>
        <WhichIsOn />
        {pieces.length < 2 && view ? (
          <p className="text-ink-soft">
            There is one piece, so nothing is joined.{' '}
            <Link to={`/p/${project.id}/seams`} className="text-lapis underline underline-offset-2">
              Place seams
            </Link>{' '}
            first.
          </p>
        ) : !assembly ? (
          <p className="text-ink-soft" role="status">
            Each step is being checked for a free way in.
          </p>
        ) : (
          <>
            <p className="mb-2 text-ink-soft text-sm">
              <span className="num">{pieces.length}</span> pieces, <span className="num">{steps.length}</span> steps,{' '}
              <span className="num">{(area / 100).toFixed(0)}</span> cm² to close,{' '}
              <span className="num">{hoursText(minutes / 60)}</span> of waiting
            </p>
            <ProposeOrder now={assembly} />
            <Button className="mt-2 w-full" onClick={() => open('export')}>
              Assembly sheet
            </Button>
            {assembly.checking && (
              <p className="mt-2 text-ink-soft" role="status">
                The steps are being checked again.
              </p>
            )}
            <div
              className={`slim-scroll mt-3 min-h-0 grow overflow-y-auto ${assembly.checking ? 'grayscale' : ''}`}
              inert={assembly.checking}
              aria-busy={assembly.checking}
            >
              <StepList
                steps={steps}
                threads={assembly.threads}
                order={order}
                chosen={chosen}
                codeOf={codeOf}
                onChoose={choose}
              />
              <div className="mt-3">
                <Findings list={view?.findings.filter((f) => isListedAt('assembly', f)) ?? []} measured />
              </div>
            </div>
          </>
        )}
      </Ledger>
      {steps.length > 0 && (
        <Companion
          title="Order of joining"
          note={
            <span className="flex items-center gap-2">
              <Button
                className="h-7 px-2"
                aria-label={build.playing ? 'Stop' : 'Play the build'}
                onClick={build.playing ? build.stop : build.play}
              >
                {build.playing ? <Pause size={14} aria-hidden /> : <Play size={14} aria-hidden />}
              </Button>
              <Slide
                label="Moment of the build"
                value={build.moment}
                min={0}
                max={steps.length}
                step={0.05}
                text={`${Math.floor(build.moment)} of ${steps.length} steps done`}
                className="w-44"
                onChange={build.go}
              />
              <span className="num w-24">
                {Math.floor(build.moment)} of {steps.length}
              </span>
            </span>
          }
        >
          <div className="h-[calc(100cqh-64px)] min-h-[160px]">
            <ConfluenceDrawing steps={steps} pieces={pieces} moment={build.moment} chosen={chosen} onChoose={choose} />
          </div>
        </Companion>
      )}
      <Side>
        {chosen !== null && order[chosen] ? (
          <StepDetails
            step={steps[chosen]}
            order={order}
            number={chosen}
            threads={assembly?.threads ?? NO_THREADS}
            codeOf={codeOf}
          />
        ) : (
          <Part title="Steps">
            <p className="text-ink-soft">
              Choose a step to see how its parts come together, what it needs, and what is in its way.
            </p>
          </Part>
        )}
      </Side>
    </>
  );
}

import { stepWords } from '@gephyra/core/plan';
import { Link } from 'react-router';
import { useProject } from '../../project/project.tsx';
import { Button } from '../../ui/button.tsx';
import type { BenchActs } from './use-bench-acts.ts';
import type { Standing } from './use-standing.ts';

const isPrinting = ({ progress }: Standing): boolean => progress.some((p) => p.state === 'printing');

/** Something is yet to print and nothing prints: where no bed is to be sent, it lies on none. */
const isOffBeds = (standing: Standing): boolean =>
  standing.tally.printed < standing.tally.copies && !isPrinting(standing);

/** Why there is nothing to do. */
function nothingNext(standing: Standing, hasBeds: boolean, steps: number | null): string {
  const { joined, copies } = standing.tally;
  if (joined === copies) return 'All of it is joined. What is left is filling, sanding and paint.';
  if (isPrinting(standing)) return 'Wait for what is printing.';
  if (isOffBeds(standing)) return hasBeds ? 'What is left to print lies on no bed.' : 'No bed is filled yet.';
  if (steps === null) return 'All of it is printed. The order of joining is being checked.';
  return `All of it is printed. ${steps > 0 ? 'Join it as Assembly says.' : 'What is left is filling, sanding and paint.'}`;
}

/** Beds to send and steps to join, each with its key. */
export function WhatComesNext({ standing, acts }: { standing: Standing; acts: BenchActs }) {
  const { project, plan, assembly, saveState } = useProject();
  const { next, full, titleOf, codeOf, firstOf } = standing;
  return (
    <section aria-label="What comes next" className="mb-4">
      <h2 className="mb-1 text-base">What comes next</h2>
      {next.length === 0 && (
        <p className="text-ink-soft">
          {nothingNext(standing, plan.beds.length > 0, assembly?.steps.length ?? null)}
          {isOffBeds(standing) && (
            <>
              {' '}
              <Link to={`/p/${project.id}/beds`} className="text-lapis underline underline-offset-2">
                Fill beds
              </Link>
            </>
          )}
        </p>
      )}
      <ul className="flex flex-col gap-1.5">
        {next.map((n) =>
          n.do === 'print' ? (
            <li key={n.bed} className="flex items-center justify-between gap-2">
              <span>
                print {titleOf(n.bed)}, {n.pieces} {n.pieces === 1 ? 'piece' : 'pieces'}
              </span>
              <Button
                className="h-7"
                aria-label={`Send ${titleOf(n.bed)} to its printer`}
                disabled={acts.sending !== null || saveState !== 'saved' || full}
                onClick={() => void acts.send(plan.beds.find((b) => b.id === n.bed)!, titleOf(n.bed))}
              >
                {acts.sending === n.bed ? 'Sending' : 'Send'}
              </Button>
            </li>
          ) : (
            <li key={n.step} className="flex items-center justify-between gap-2">
              <span>join {stepWords(n.parts, codeOf)}</span>
              <Button
                className="h-7"
                aria-label={`Step ${n.step + 1} is joined`}
                onClick={() => acts.note(firstOf(n.parts.flat()), 'joined')}
              >
                Joined
              </Button>
            </li>
          ),
        )}
      </ul>
    </section>
  );
}

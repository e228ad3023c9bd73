import { stepWords } from '@gephyra/core';
import { Link } from 'react-router';
import { useProject } from '../../project/project.tsx';
import { Button } from '../../ui/button.tsx';
import type { BenchActs } from './use-bench-acts.ts';
import type { Standing } from './use-standing.ts';

/** Beds to send and steps to join, each with its key. */
export function WhatComesNext({ standing, acts }: { standing: Standing; acts: BenchActs }) {
  const { project, plan, saveState } = useProject();
  const { next, tally, full, titleOf, codeOf, firstOf } = standing;
  return (
    <section aria-label="What comes next" className="mb-4">
      <h2 className="mb-1 text-base">What comes next</h2>
      {next.length === 0 && (
        <p className="text-ink-soft">
          {tally.joined === tally.copies
            ? 'All of it is joined. What is left is filling, sanding and paint.'
            : plan.beds.length === 0
              ? 'No bed is filled yet.'
              : 'Wait for what is printing.'}
          {plan.beds.length === 0 && tally.printed < tally.copies && (
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

import { Check } from 'lucide-react';
import { Link } from 'react-router';
import { useProject } from '../project/project.tsx';
import { Bar } from '../ui/bar.tsx';
import { Button } from '../ui/button.tsx';
import { Dialog } from '../ui/dialog.tsx';
import { PRINTABLE_STEPS, type PrintableStep, usePrintable } from './use-printable.ts';

const WORDS: Record<PrintableStep, { readonly title: string; readonly station: string }> = {
  mend: { title: 'Mend what is open', station: 'model' },
  seams: { title: 'Part it so that every piece fits', station: 'seams' },
  joints: { title: 'Put joints on the mating faces', station: 'joints' },
  poses: { title: 'Lay each piece as it prints best', station: 'pieces' },
  beds: { title: 'Fill the beds', station: 'beds' },
};

/** From a model to beds in one go: what will be done, how far it is, what it did and what it left. */
export function PrintableDialog({ onClose }: { onClose: () => void }) {
  const { project, plan, view, busy } = useProject();
  const { at, told, working, wrong, begin, cancel } = usePrintable();
  const running = at !== 'start' && at !== 'done';
  const over = at === 'done' && !wrong;
  const there = [
    plan.seams.length > 0 && `${plan.seams.length} seams`,
    plan.joints.length > 0 && `${plan.joints.length} joints`,
  ].filter((x) => x !== false);
  const stops = over && !busy ? (view?.findings.filter((f) => f.severity === 'stop') ?? []) : [];
  const left = [...PRINTABLE_STEPS.flatMap((s) => told.get(s)?.left ?? []), ...stops.map((f) => f.message)];
  return (
    <Dialog title="Make it printable" onClose={onClose} width="w-[40rem]">
      <p className="mb-3">
        For {[plan.printer, ...plan.printers].map((p) => `${p.name} (${p.size.join(' × ')} mm)`).join(', ')}.{' '}
        {at === 'start' && there.length > 0 && `What is there stays: ${there.join(', ')}. `}
        {at === 'start' && 'Every step becomes one change that undo takes back.'}
      </p>
      <ol aria-label="Steps" className="border-rule border-t">
        {PRINTABLE_STEPS.map((step) => {
          const done = told.get(step);
          return (
            <li
              key={step}
              aria-current={at === step ? 'step' : undefined}
              className={`grid grid-cols-[22px_1fr_auto] items-baseline gap-2 border-rule border-b py-2 ${at === step ? 'bg-lapis-wash' : ''}`}
            >
              <span className="self-center pl-1 text-good">{done && <Check size={16} aria-label="done" />}</span>
              <div className="min-w-0">
                <p className={done || at === step ? 'font-semibold' : ''}>{WORDS[step].title}</p>
                {done && <p className="text-ink-soft text-sm">{done.did}</p>}
                {at === step && (
                  <div className="flex items-center gap-2 text-ink-soft text-sm">
                    <Bar label={WORDS[step].title} share={working?.share ?? 0} className="w-32 shrink-0" />
                    {working?.what}
                  </div>
                )}
              </div>
              {over && (
                <Link
                  to={`/p/${project.id}/${WORDS[step].station}`}
                  onClick={onClose}
                  className="pr-1 text-lapis text-sm underline underline-offset-2"
                >
                  see {WORDS[step].station}
                </Link>
              )}
            </li>
          );
        })}
      </ol>
      <div role="status" className="mt-3">
        {wrong && <p className="text-stop">{wrong}</p>}
        {over && left.length === 0 && !busy && (
          <p className="text-good">
            {view?.pieces.length} pieces on {plan.beds.length === 1 ? 'one bed' : `${plan.beds.length} beds`}, and
            nothing is left to mend.
          </p>
        )}
      </div>
      {over && left.length > 0 && (
        <section aria-label="What is left">
          <h3 className="mb-1 text-base">What it could not do</h3>
          <ul className="slim-scroll max-h-44 list-disc overflow-y-auto pl-5 text-sm">
            {left.map((l) => (
              <li key={l}>{l}</li>
            ))}
          </ul>
        </section>
      )}
      <div className="mt-4 flex justify-end gap-2">
        {running ? (
          <Button onClick={cancel}>Cancel</Button>
        ) : over ? (
          <Button look="main" onClick={onClose}>
            Close
          </Button>
        ) : (
          <>
            <Button onClick={onClose}>Leave it</Button>
            <Button look="main" disabled={!view || busy} onClick={begin}>
              {wrong ? 'Start again' : 'Start'}
            </Button>
          </>
        )}
      </div>
    </Dialog>
  );
}

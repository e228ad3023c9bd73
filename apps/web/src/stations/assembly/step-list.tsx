import { type AssemblyStep, type OrderStep, stepMoved, stepWords, type Thread } from '@gephyra/core/plan';
import { memo } from 'react';
import { useProject } from '../../project/project.tsx';
import { Sorted, useSorted } from '../../ui/sorted.tsx';

/** The steps in the order they are done; moved by their grips, or by the arrow keys on them. */
export const StepList = memo(function StepList({
  steps,
  threads,
  order,
  chosen,
  codeOf,
  onChoose,
}: {
  steps: readonly AssemblyStep[];
  /** what runs through bores is told with the step after which it is put in */
  threads: readonly Thread[];
  /** the same steps as the plan keeps them */
  order: readonly OrderStep[];
  chosen: number | null;
  codeOf(key: string): string;
  onChoose(step: number): void;
}) {
  const { change } = useProject();
  const nameOf = (id: string): string => `step ${order.findIndex((s) => s.id === id) + 1}`;
  return (
    <Sorted
      label="Steps of joining"
      className="border-rule border-t"
      ids={order.map((s) => s.id)}
      nameOf={nameOf}
      onMove={(id, to) => change(`Move ${nameOf(id)}`, { do: 'set', set: { order: stepMoved(order, id, to) } })}
    >
      {steps.map((step, i) => (
        <StepRow
          key={order[i].id}
          id={order[i].id}
          number={i + 1}
          step={step}
          threads={threads.filter((t) => t.after === i + 1)}
          chosen={chosen === i}
          codeOf={codeOf}
          onChoose={() => onChoose(i)}
        />
      ))}
    </Sorted>
  );
});

function StepRow({
  id,
  number,
  step,
  threads,
  chosen,
  codeOf,
  onChoose,
}: {
  id: string;
  number: number;
  step: AssemblyStep;
  threads: readonly Thread[];
  chosen: boolean;
  codeOf(key: string): string;
  onChoose(): void;
}) {
  const { ref, style, grip } = useSorted(id, `step ${number}`);
  const blocked = step.blockers.length > 0;
  return (
    <li
      ref={ref}
      style={style}
      className={`flex items-center gap-2 border-rule border-b py-1.5 ${chosen ? 'bg-cut-wash shadow-[inset_3px_0_0_var(--color-cut)]' : ''}`}
    >
      {grip}
      <span className="num w-6 shrink-0 text-right text-ink-soft">{number}</span>
      <button type="button" aria-current={chosen} className="min-w-0 grow text-left" onClick={onChoose}>
        <span className={`block ${chosen ? 'font-semibold' : ''}`}>{stepWords(step.parts, codeOf)}</span>
        <span className={`block text-sm ${blocked ? 'text-stop' : 'text-ink-soft'}`}>
          {blocked ? 'blocked' : `${(step.area / 100).toFixed(0)} cm², ${step.closing}`}
        </span>
        {threads.map((t) => (
          <span key={t.bore} className="block text-ink-soft text-sm">
            then {t.what}
          </span>
        ))}
      </button>
    </li>
  );
}

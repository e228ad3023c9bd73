import {
  type AssemblyStep,
  CLOSING_MINUTES,
  CLOSINGS,
  type Closing,
  codesOf,
  comesFrom,
  holdWords,
  needsOf,
  type OrderStep,
  partMoved,
  partsTurned,
  placesFor,
  stepWords,
  type Thread,
  threadWords,
} from '@gephyra/core/plan';
import { memo, useMemo } from 'react';
import { useProject } from '../../project/project.tsx';
import { Button } from '../../ui/button.tsx';
import { Facts, Part } from '../../ui/panels.tsx';
import { Pick } from '../../ui/pick.tsx';

const CLOSING_WORDS: Record<Closing, string> = {
  glue: 'glue',
  weld: 'weld',
  screw: 'screws',
  magnet: 'magnets',
  loose: 'left loose',
};

/** One step: what is joined, how it comes in, what it needs, what is in its way; and how it could be done otherwise. */
export const StepDetails = memo(function StepDetails({
  step,
  order,
  number,
  threads,
  codeOf,
}: {
  step: AssemblyStep;
  order: readonly OrderStep[];
  /** from 0 */
  number: number;
  threads: readonly Thread[];
  codeOf(key: string): string;
}) {
  const { view, change } = useProject();
  const own = order[number];
  const name = `step ${number + 1}`;
  const set = (label: string, next: readonly OrderStep[]): void =>
    void change(label, { do: 'set', set: { order: [...next] } });
  const put = (label: string, fields: Partial<OrderStep>): void =>
    set(
      label,
      order.map((s) => (s.id === own.id ? { ...s, ...fields, by: 'hand' as const } : s)),
    );
  const { kinds, loose } = needsOf(step, view?.joints ?? [], view?.loose ?? []);
  /** the places of each part are many, and the same while the build runs */
  const places = useMemo(
    () =>
      own.parts.map((part) => {
        const free = new Set(placesFor(order, part));
        return order.flatMap((s, i) =>
          s.id === own.id
            ? [{ value: s.id, label: 'here' }]
            : free.has(s.id)
              ? [{ value: s.id, label: `after step ${i + 1}` }]
              : [],
        );
      }),
    [order, own],
  );
  return (
    <>
      <Part title={`Step ${number + 1}`} note={stepWords(step.parts, codeOf)}>
        <Facts
          rows={[
            ['comes', comesFrom(step.out)],
            ['free after', step.travel < 0.5 ? 'at once' : `${step.travel.toFixed(0)} mm`],
            ['to bond', `${(step.area / 100).toFixed(1)} cm²`],
            ['joints', kinds.map((k) => `${k.count} × ${k.kind}`).join(', ') || 'none'],
            ...loose.map(
              (l) =>
                ['needs', `${l.count} × ${l.what}${l.length === null ? '' : `, ${l.length.toFixed(0)} mm`}`] as const,
            ),
            ...threads
              .filter((t) => t.after === number + 1 || (t.after === 0 && number === 0))
              .map((t) => [t.after === 0 ? 'put in first' : 'then put in', threadWords(t, codeOf)] as const),
            ['to wait', `${step.minutes} min`],
          ]}
        />
        {step.blockers.length > 0 && (
          <ul aria-label="In the way" className="mt-2 border-stop border-l-[3px] bg-stop-wash px-2.5 py-1.5">
            {step.blockers.slice(0, 5).map((b) => (
              <li key={`${b.comes} ${b.stays}`}>
                <strong>
                  {codeOf(b.comes)}, {codeOf(b.stays)}
                </strong>
                : {holdWords(b.hold)}.
              </li>
            ))}
            {step.blockers.length > 5 && <li>and {step.blockers.length - 5} more</li>}
          </ul>
        )}
        <div className="mt-3 flex flex-col gap-2">
          <Pick
            label="Closed by"
            value={step.closing}
            options={CLOSINGS.map((value) => ({
              value,
              label: `${CLOSING_WORDS[value]}${CLOSING_MINUTES[value] > 0 ? `, ${CLOSING_MINUTES[value]} min` : ''}`,
            }))}
            onChange={(closing) => put(`Close ${name} by ${CLOSING_WORDS[closing]}`, { closing })}
          />
          <label className="block">
            <span className="mb-0.5 block text-ink-soft text-sm">Notes for the sheet</span>
            <textarea
              key={own.id}
              className="min-h-14 w-full rounded border border-rule-strong bg-sheet px-2 py-1"
              maxLength={1000}
              defaultValue={step.notes}
              placeholder="Glue one half, clamp, then the other."
              onBlur={(e) => e.target.value !== step.notes && put(`Note on ${name}`, { notes: e.target.value })}
            />
          </label>
        </div>
      </Part>
      <Part title="Join it otherwise">
        <div className="flex flex-col gap-2">
          {own.parts.map((part, i) => (
            <Pick
              key={JSON.stringify(part)}
              label={`Join ${codesOf(step.parts[i], codeOf)}`}
              value={own.id}
              options={places[i]}
              onChange={(after) => {
                const next = partMoved(order, part, after);
                if (next) set(`Join ${codesOf(step.parts[i], codeOf)} elsewhere`, next);
              }}
            />
          ))}
          <div className="flex flex-wrap gap-2">
            <Button onClick={() => set(`Turn ${name} round`, partsTurned(order, own.id))}>
              Let {codesOf(step.parts[0], codeOf)} come instead
            </Button>
            {own.way && (
              <Button onClick={() => put(`Find a way for ${name}`, { way: undefined })}>Find another way in</Button>
            )}
          </div>
        </div>
      </Part>
    </>
  );
});

import { type Step, type StepInput, stepSchema, stepTitle } from '@gephyra/core/plan';
import { useEffect, useRef } from 'react';
import { useProject } from '../../project/project.tsx';
import { Bar } from '../../ui/bar.tsx';
import { Button } from '../../ui/button.tsx';
import { Facts } from '../../ui/panels.tsx';
import { changesOf, deviationText } from './steps.ts';

/**
 * A step that is shown but not taken yet: what it does in numbers, and the choice. It stands beside the key that asked for it and
 * is brought into view, when it comes and when its numbers do. `of`: nothing where the step is of another kind.
 */
export function Preview({ of }: { of?: readonly StepInput['kind'][] }) {
  const { candidate, preview, change, model, busy, shaping, failure } = useProject();
  const section = useRef<HTMLElement>(null);
  const own = candidate !== null && (of?.includes(candidate.kind) ?? true);
  const known = own && !busy;
  useEffect(() => {
    if (own || known) section.current?.scrollIntoView({ block: 'nearest' });
  }, [own, known]);
  if (!candidate || !own) return null;
  const step: Step = stepSchema.parse(candidate);
  const title = stepTitle(step);
  const report = busy ? undefined : model?.reports.at(-1);
  const rows = report ? changesOf(report) : [];
  return (
    <section
      ref={section}
      aria-label="Preview"
      className={`bg-lapis-wash px-3.5 py-3 ${of ? 'rounded border border-lapis' : 'border-lapis border-b-2'}`}
    >
      <h2 className="text-base">Preview: {title}</h2>
      {failure && <p className="text-stop">{failure}</p>}
      {shaping && !failure && (
        <p className="flex items-center gap-2" role="status">
          <Bar label={title} share={shaping.progress} className="w-24" />
          {shaping.what}
        </p>
      )}
      {report && !failure && (
        <div className="my-1" role="status">
          {rows.length === 0 && <p>It changes nothing.</p>}
          <Facts rows={rows} />
          {report.deviation && <p className="text-ink-soft text-sm">{deviationText(report)} (Sampled.)</p>}
          {report.notes.map((n) => (
            <p key={n} className="text-sm">
              {n}
            </p>
          ))}
        </div>
      )}
      <div className="mt-2 flex gap-2">
        <Button
          look="main"
          disabled={busy || failure !== null}
          onClick={() => {
            preview(null);
            change(title, { do: 'addStep', step: candidate });
          }}
        >
          Take it
        </Button>
        <Button onClick={() => preview(null)}>Leave it</Button>
      </div>
    </section>
  );
}

import { isLight, type Plan, type Step, type StepReport, stepFields, stepTitle, withIds } from '@gephyra/core/plan';
import { useProject } from '../../project/project.tsx';
import { useSelection } from '../../project/selection.tsx';
import { AskedFields } from '../../ui/asked-fields.tsx';
import { OrderKeys } from '../../ui/order-keys.tsx';
import { Facts } from '../../ui/panels.tsx';
import { Sorted, useSorted } from '../../ui/sorted.tsx';
import { Tick } from '../../ui/tick.tsx';
import { changesOf, deviationText } from './steps.ts';

/** The report of each heavy step by the step's place in the whole recipe. */
export function reportsByPlace(recipe: Plan['recipe'], reports: readonly StepReport[]): Map<number, StepReport> {
  const places = recipe.flatMap((s, i) => (s.enabled ? [i] : []));
  return new Map(reports.map((r) => [places[r.index], r]));
}

/** The recipe: what has been done to the model, in order. Each step can be changed, switched off, moved, deleted. */
export function Recipe() {
  const { plan, model, change, busy } = useProject();
  const [{ step: chosen }, select] = useSelection();
  const { recipe } = withIds(plan);
  const reports = busy || !model ? new Map<number, StepReport>() : reportsByPlace(recipe, model.reports);
  const nameOf = (id: string): string => {
    const step = recipe.find((s) => s.id === id);
    return step ? stepTitle(step) : id;
  };
  return (
    <section aria-label="Recipe" className="mt-4">
      <h2 className="mb-1 text-base">Recipe</h2>
      {recipe.length === 0 ? (
        <p className="text-ink-soft">
          The model is as in its file. What you do to it is listed here, and can be changed.
        </p>
      ) : (
        <Sorted
          label="Steps in order"
          className="border-rule border-t"
          ids={recipe.map((s) => s.id)}
          nameOf={nameOf}
          onMove={(id, to) =>
            change(`Move ${nameOf(id)} ${to < recipe.findIndex((s) => s.id === id) ? 'up' : 'down'}`, {
              do: 'moveStep',
              id,
              to,
            })
          }
        >
          {recipe.map((step, i) => (
            <StepRow
              key={step.id}
              step={step}
              index={i}
              last={i === recipe.length - 1}
              report={reports.get(i)}
              stretched={stretched(recipe, i)}
              selected={step.id === chosen}
              onSelect={() => select({ step: step.id === chosen ? null : step.id })}
              onChange={change}
            />
          ))}
        </Sorted>
      )}
    </section>
  );
}

/** Whether a later size stretches the millimetres of a step that was meant to keep them. */
function stretched(recipe: readonly Step[], i: number): boolean {
  if (!['wall', 'hollow', 'takeOut', 'bore', 'inlay'].includes(recipe[i].kind)) return false;
  return recipe.slice(i + 1).some((s) => s.enabled && (s.kind === 'scale' || s.kind === 'tailor' || s.kind === 'unit'));
}

interface RowProps {
  readonly step: Step & { id: string };
  readonly index: number;
  readonly last: boolean;
  readonly report: StepReport | undefined;
  readonly stretched: boolean;
  readonly selected: boolean;
  onSelect(): void;
  readonly onChange: ReturnType<typeof useProject>['change'];
}

function StepRow({ step, index, last, report, stretched: warns, selected, onSelect, onChange }: RowProps) {
  const title = stepTitle(step);
  const { ref, style, grip } = useSorted(step.id, title);
  return (
    <li ref={ref} style={style} className={`border-rule border-b ${selected ? '-mx-2 bg-paper-deep/70 px-2' : ''}`}>
      <div className="flex items-center gap-2 py-1.5">
        {grip}
        <Tick
          tone="ink"
          checked={step.enabled}
          label={`${title} is done`}
          onChange={() =>
            onChange(`${step.enabled ? 'Switch off' : 'Switch on'}: ${title}`, {
              do: 'setStep',
              id: step.id,
              set: { enabled: !step.enabled },
            })
          }
        />
        <button
          type="button"
          aria-expanded={selected}
          className={`min-w-0 grow truncate text-left ${step.enabled ? '' : 'text-ink-soft line-through'}`}
          onClick={onSelect}
        >
          <span className="num mr-1 text-ink-soft">{index + 1}</span>
          {title}
        </button>
      </div>
      {warns && (
        <p className="pb-1 pl-5 text-sm text-warn">A later size stretches its millimetres. Move the size before it.</p>
      )}
      {selected && (
        <div className="pb-2">
          {report && (
            <>
              <Facts rows={changesOf(report)} />
              {report.deviation && <p className="text-ink-soft text-sm">{deviationText(report)} (Sampled.)</p>}
              {report.notes.map((n) => (
                <p key={n} className="mb-1.5 text-sm">
                  {n}
                </p>
              ))}
            </>
          )}
          <AskedFields
            fields={stepFields(step)}
            set={(_, set) => onChange(`Change ${title}`, { do: 'setStep', id: step.id, set })}
          />
          <OrderKeys
            className="mt-1 flex-wrap"
            index={index}
            last={last}
            onMove={(to) =>
              onChange(`Move ${title} ${to < index ? 'up' : 'down'}`, { do: 'moveStep', id: step.id, to })
            }
            onDelete={() => onChange(`Delete ${title}`, { do: 'removeStep', id: step.id })}
          >
            {!isLight(step) && <span className="self-center text-ink-soft text-sm">done by the server</span>}
          </OrderKeys>
        </div>
      )}
    </li>
  );
}

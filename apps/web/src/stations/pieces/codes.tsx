import { LABELS, planSchema } from '@gephyra/core/plan';
import { useProject } from '../../project/project.tsx';
import { bounded } from '../../ui/bounded.ts';
import { Button } from '../../ui/button.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Switch } from '../../ui/switch.tsx';

/** Codes engraved into mating faces: whether, how tall and how deep, and where they find no room. */
export function Codes() {
  const { plan, view, prints, change } = useProject();
  const { labels } = plan;
  if (!view || view.faces.length === 0) return null;
  const without = new Set(view.findings.filter((f) => f.code === 'label.room').map((f) => f.where.piece));
  const codes = view.pieces.filter((p) => without.has(p.key)).map((p) => p.code);
  const set = (what: string, next: Partial<typeof LABELS>): void => {
    if (labels) change(what, { do: 'set', set: { labels: { ...labels, ...next } } });
  };
  return (
    <div className="mt-3 flex flex-wrap items-end gap-x-4 gap-y-2 border-rule border-t pt-3">
      <Switch
        checked={labels !== undefined}
        onChange={(on) =>
          change(on ? 'Engrave codes' : 'Engrave no codes', { do: 'set', set: { labels: on ? LABELS : undefined } })
        }
      >
        Engrave codes on mating faces
      </Switch>
      {labels && (
        <>
          <div className="w-24">
            <NumberField
              label="Letters"
              unit="mm"
              {...bounded(planSchema.shape.labels.unwrap().shape.height)}
              value={labels.height}
              onCommit={(height) => set(`Letters ${height} mm tall`, { height })}
            />
          </div>
          <div className="w-24">
            <NumberField
              label="Deep"
              unit="mm"
              {...bounded(planSchema.shape.labels.unwrap().shape.depth)}
              digits={2}
              step={0.1}
              value={labels.depth}
              onCommit={(depth) => set(`Letters ${depth} mm deep`, { depth })}
            />
          </div>
          <p role="status" className="basis-full text-ink-soft">
            {prints.busy
              ? 'Room is being looked for.'
              : codes.length === 0
                ? 'Every piece with a mating face carries its code, read from outside with the model upright.'
                : `No room beside the joints on ${codes.join(', ')}.`}
          </p>
        </>
      )}
      <Anew />
    </div>
  );
}

/** Codes from 1 again, in the order in which the pieces lie; not while something outside carries one of them. */
function Anew() {
  const { plan, view, change } = useProject();
  const printed = (plan.log ?? []).length > 0;
  const fixed = printed || (view?.codes ?? []).some((c) => c.out);
  return (
    <div className="basis-full">
      <Button disabled={fixed} onClick={() => change('Number the pieces anew', { do: 'set', set: { codes: [] } })}>
        Number the pieces anew
      </Button>
      {fixed && (
        <p className="mt-1 text-ink-soft text-sm">
          {printed ? 'Pieces are printed under their codes' : 'Files with these codes were written'}, so they stay.
        </p>
      )}
    </div>
  );
}

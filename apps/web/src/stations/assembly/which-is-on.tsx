import { alternateBodies } from '@gephyra/core/plan';
import { useProject } from '../../project/project.tsx';
import { Pick } from '../../ui/pick.tsx';

/** Of bodies that take each other's place, the one that is put on the whole; the order of joining goes by it. */
export function WhichIsOn() {
  const { plan, view, change } = useProject();
  const bodies = view?.bodies ?? [];
  const there = alternateBodies(
    plan.alternates,
    bodies.map((b) => b.id),
  );
  const sets = [...new Set([...there.values()].map((a) => a.set))];
  if (sets.length === 0) return null;
  const nameOf = (id: string): string =>
    plan.bodies.find((b) => b.id === id)?.name || bodies.find((b) => b.id === id)?.name || id;
  return (
    <div className="mb-3 flex flex-col gap-2">
      {sets.map((set) => (
        <Pick
          key={set.id}
          label={set.name || 'Which is on'}
          value={there.get(set.bodies.find((b) => there.has(b))!)!.shown}
          options={set.bodies.filter((b) => there.has(b)).map((b) => ({ value: b, label: nameOf(b) }))}
          onChange={(shown) =>
            change(`Put ${nameOf(shown)} on`, {
              do: 'set',
              set: { alternates: plan.alternates.map((s) => (s.id === set.id ? { ...s, shown } : s)) },
            })
          }
        />
      ))}
    </div>
  );
}

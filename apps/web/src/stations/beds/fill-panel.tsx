import { applyChange, type Filling, hoursText, type Plan } from '@gephyra/core/plan';
import { useMemo, useState } from 'react';
import { useProject } from '../../project/project.tsx';
import type { Prints } from '../../project/use-prints.ts';
import { useSearch } from '../../project/use-search.ts';
import { BeforeAfter } from '../../ui/before-after.tsx';
import { Button } from '../../ui/button.tsx';
import { Working } from '../../ui/working.tsx';
import { printerOfBed, sumOfBed, unplaced } from './bed-math.ts';

/** Fills beds, and keeps what was found until it is taken or left. */
export function useFilling() {
  const { plan, alike } = useProject();
  const { searching, search } = useSearch();
  const [found, setFound] = useState<{ of: Plan; filling: Filling } | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  const fill = async (): Promise<void> => {
    setFailed(null);
    try {
      const filling = await search('Filling beds', (engine, tell) => engine.fillBeds(plan, alike.files, tell));
      if (filling) setFound({ of: plan, filling });
    } catch (error) {
      setFailed((error as Error).message);
    }
  };
  return { searching, fill, failed, filling: found?.of === plan ? found.filling : null, leave: () => setFound(null) };
}

/** What is told of beds together. */
interface Beds {
  readonly beds: number;
  /** hours of the longest */
  readonly longest: number;
  /** how full they are, on average */
  readonly share: number;
  readonly missing: number;
}

const ROWS: readonly [string, (of: Beds) => string][] = [
  ['beds', (b) => String(b.beds)],
  ['longest', (b) => hoursText(b.longest)],
  ['filled', (b) => `${(100 * b.share).toFixed(0)} %`],
  ['on no bed', (b) => String(b.missing)],
];

function bedsOf(plan: Plan, { byKey, prints }: Prints): Beds {
  const sums = plan.beds.map((b) => sumOfBed(b, byKey, printerOfBed(plan, b)));
  return {
    beds: sums.length,
    longest: Math.max(0, ...sums.map((s) => s.hours)),
    share: sums.length === 0 ? 0 : sums.reduce((a, s) => a + s.share, 0) / sums.length,
    missing: unplaced(plan, prints).length,
  };
}

/** What filling would change: beds, hours of the longest, what is left over; taken in one go. */
export function FillPanel({
  filling: { searching, failed, filling, leave },
}: {
  filling: ReturnType<typeof useFilling>;
}) {
  const { plan, view, prints, change } = useProject();
  const told = useMemo(
    () => filling && { before: bedsOf(plan, prints), after: bedsOf(applyChange(plan, filling.change), prints) },
    [plan, filling, prints],
  );
  if (searching) return <Working label="Filling beds" working={searching} />;
  if (failed) return <p className="text-stop">{failed}</p>;
  if (!filling || !told) return null;
  const codeOf = (key: string): string => view?.pieces.find((p) => p.key === key)?.code ?? key;
  return (
    <section aria-label="Beds as they would be" className="mb-3 border-lapis border-l-[3px] bg-lapis-wash px-2.5 py-2">
      <BeforeAfter title="filled anew" rows={ROWS} {...told} />
      {filling.left.length > 0 && (
        <ul className="mt-1.5 text-stop">
          {filling.left.slice(0, 6).map((l) => (
            <li key={`${l.copy} ${l.piece}`}>
              {codeOf(l.piece)}: {l.why}
            </li>
          ))}
          {filling.left.length > 6 && <li>and {filling.left.length - 6} more</li>}
        </ul>
      )}
      <div className="mt-2 flex flex-wrap gap-2">
        <Button
          look="main"
          onClick={() => {
            change('Fill beds', filling.change);
            leave();
          }}
        >
          Take these beds
        </Button>
        <Button onClick={leave}>Leave them</Button>
      </div>
    </section>
  );
}

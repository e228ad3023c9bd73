import {
  type Flat,
  flatPlace,
  flatSchema,
  flatsOf,
  IDENTITY,
  type ProfileSeam,
  type Seam,
  seamKind,
} from '@gephyra/core/plan';
import { useState } from 'react';
import { useProject } from '../../project/project.tsx';
import { seamTitle } from '../../project/seam-math.ts';
import type { Marker } from '../../project/shown.ts';
import { useSearch } from '../../project/use-search.ts';
import { bounded } from '../../ui/bounded.ts';
import { Button } from '../../ui/button.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Part } from '../../ui/panels.tsx';
import { Working } from '../../ui/working.tsx';

type Bent = ProfileSeam | Extract<Seam, { kind: 'ring' }>;

/** Whether a seam's faces are bent, so that joints need flats, or have been and still have some. */
export const isBent = (seam: Seam): seam is Bent => seamKind(seam).bent(seam) || flatsOf(seam).length > 0;

/** A seam's flats as the view draws them. */
export const flatMarkers = (seam: Seam, map = IDENTITY): Marker[] =>
  flatsOf(seam).map((flat) => ({
    at: flatPlace(seam, flat, map).frame.origin,
    radius: flat.diameter / 2,
    text: `flat ${flat.n + 1}`,
  }));

/** Places of a bent seam that are worked flat, so that joints stand there: found, made larger or smaller, taken away. */
export function FlatsPanel({ seam }: { seam: Bent }) {
  const { plan, view, change } = useProject();
  const { searching, search } = useSearch();
  const [said, setSaid] = useState<string | null>(null);
  const title = seamTitle(seam);
  const flats = flatsOf(seam);
  const set = (label: string, next: readonly Flat[]): void => {
    setSaid(null);
    change(label, { do: 'setSeam', id: seam.id, set: { flats: next } });
  };
  const find = async (): Promise<void> => {
    setSaid(null);
    try {
      const found = await search('Looking for places', (engine) => engine.findFlats(plan, seam.id));
      if (found === null) return;
      if (found.length === 0) {
        setSaid(
          flats.length > 0
            ? 'There is no room for more.'
            : 'No place was found: a flat needs 8 mm and a wall round it, on a face that does not look all ways.',
        );
        return;
      }
      set(`Work ${found.length === 1 ? 'a flat' : `${found.length} flats`} into ${title}`, [...flats, ...found]);
    } catch (error) {
      setSaid((error as Error).message);
    }
  };
  return (
    <Part title="Flats" note={flats.length > 0 ? 'diameter, mm' : ''}>
      <p className="mb-2 text-ink-soft text-sm">
        {flats.length === 0
          ? 'The faces of this seam are bent. A round place worked flat, one side sunk and the other raised, carries a joint.'
          : 'Each carries a joint: seat them at Joints, as on any face.'}
      </p>
      {flats.length > 0 && (
        <ul aria-label="Flats" className="mb-2 flex flex-col gap-1">
          {flats.map((flat) => (
            <li key={flat.n} className="flex items-end gap-2">
              <div className="w-[150px]">
                <NumberField
                  label={`Flat ${flat.n + 1}`}
                  {...bounded(flatSchema.shape.diameter)}
                  value={flat.diameter}
                  onCommit={(diameter) =>
                    set(
                      `Size flat ${flat.n + 1} of ${title}`,
                      flats.map((f) => (f.n === flat.n ? { ...f, diameter } : f)),
                    )
                  }
                />
              </div>
              <Button
                className="h-7"
                aria-label={`Take flat ${flat.n + 1} away`}
                onClick={() =>
                  set(
                    `Take flat ${flat.n + 1} off ${title}`,
                    flats.filter((f) => f.n !== flat.n),
                  )
                }
              >
                take away
              </Button>
            </li>
          ))}
        </ul>
      )}
      {searching ? (
        <Working label="Search for flats" working={searching} />
      ) : (
        <Button look={flats.length === 0 ? 'main' : 'plain'} disabled={!view} onClick={() => void find()}>
          {flats.length === 0 ? 'Find places for flats' : 'Find more places'}
        </Button>
      )}
      <p role="status" className="mt-1.5 text-sm">
        {said}
      </p>
    </Part>
  );
}

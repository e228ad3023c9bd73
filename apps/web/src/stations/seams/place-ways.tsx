import { AXES, type Seam } from '@gephyra/core/plan';
import { useState } from 'react';
import { axisName } from '../../project/seam-math.ts';
import { useSelection } from '../../project/selection.tsx';
import { Button } from '../../ui/button.tsx';
import { Working } from '../../ui/working.tsx';
import type { NewSeam } from './placing.ts';
import { usePlacing } from './use-placing.ts';

/** The keys that place a seam: across an axis, and the other ways behind “More ways”. */
export function PlaceWays({
  seams,
  selected,
  onTry,
}: {
  seams: readonly Seam[];
  selected: Seam | null;
  /** shows a seam that is not in the plan yet */
  onTry(seam: NewSeam | null): void;
}) {
  const { ready, across, ways, searching } = usePlacing(seams, selected, onTry);
  const [, select] = useSelection();
  const [open, setOpen] = useState(false);
  return (
    <>
      <div
        role="group"
        aria-label="Add a seam"
        className="mb-2 flex overflow-hidden rounded border border-ink bg-ink text-sheet"
      >
        {AXES.map((axis) => (
          <button
            key={axis}
            type="button"
            aria-label={`Add a seam across ${axisName(axis)}`}
            disabled={!ready}
            className="h-[30px] grow border-ink-soft border-r last:border-r-0 hover:bg-[#2c3c47] disabled:opacity-50"
            onClick={() => across(axis)}
          >
            {axis === 0 ? 'Add across x' : axisName(axis)}
          </button>
        ))}
      </div>
      <div className="mb-2 flex gap-1.5">
        <Button className="grow" disabled={!ready} onClick={() => select({ tool: 'propose' })}>
          Propose seams
        </Button>
        <Button
          className="grow"
          aria-label={open ? 'Fewer ways' : 'More ways to place'}
          aria-expanded={open}
          aria-controls="ways"
          disabled={!ready}
          onClick={() => setOpen(!open)}
        >
          {open ? 'Fewer ways' : 'More ways'}
        </Button>
      </div>
      {searching && (
        <div className="mb-2">
          <Working label="Search for the mirror plane" working={searching} />
        </div>
      )}
      {open && (
        <ul id="ways" aria-label="More ways to place" className="mb-3 grid grid-cols-2 gap-1">
          {ways.map(({ title, run, off }) => (
            <li key={title}>
              <button
                type="button"
                disabled={off}
                className="min-h-9 w-full rounded border border-rule-strong px-1.5 py-1 text-left text-sm leading-4 hover:border-ink disabled:opacity-45"
                onClick={run}
              >
                {title}
              </button>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

import { stationOf } from '@gephyra/core/plan';
import { NavLink } from 'react-router';
import { useProject } from '../project/project.tsx';
import { STATIONS } from '../stations/registry.ts';

/**
 * The bridge over the stations: a deck on one pier each, arches between them. A red lantern hangs where something keeps
 * pieces from being made, a pennant flies where the work is done.
 */
export function Bridge() {
  const { project, plan, view } = useProject();
  return (
    <nav aria-label="Stations" className="relative h-9 border-rule border-b">
      <div aria-hidden className="absolute inset-x-0 top-[13px] h-[2px] bg-ink" />
      <ol className="flex h-full">
        {STATIONS.map((station, i) => {
          const stops = view?.findings.filter((f) => f.severity === 'stop' && stationOf(f) === station.id).length ?? 0;
          const done = view !== null && station.finished(view, plan);
          return (
            <li key={station.id} className="relative flex flex-1 justify-center">
              {i + 1 < STATIONS.length && (
                <svg
                  aria-hidden="true"
                  className="absolute top-[15px] left-1/2 h-[21px] w-full"
                  viewBox="0 0 100 21"
                  preserveAspectRatio="none"
                >
                  <path
                    d="M0 21 C 12 2, 88 2, 100 21"
                    fill="none"
                    stroke="var(--color-rule-strong)"
                    vectorEffect="non-scaling-stroke"
                  />
                </svg>
              )}
              <NavLink
                to={`/p/${project.id}/${station.id}`}
                className={({ isActive }) =>
                  `group relative z-10 mt-[3px] flex h-[22px] min-w-24 items-center justify-center rounded border px-3 font-display font-semibold ${isActive ? 'border-ink bg-ink text-sheet' : 'border-rule-strong bg-sheet text-ink hover:border-ink'}`
                }
              >
                {station.name}
                {stops > 0 && (
                  <span className="absolute -top-[3px] -right-2.5 flex h-[18px] min-w-[18px] items-center justify-center rounded-full bg-stop px-1 font-sans text-[12px] text-sheet">
                    {stops}
                    <span className="sr-only"> to stop for</span>
                  </span>
                )}
                {done && stops === 0 && (
                  <svg
                    aria-label="done"
                    role="img"
                    viewBox="0 0 14 12"
                    className="absolute -top-[3px] -right-3 h-3 w-3.5"
                  >
                    <path d="M1 0v12M1 1h12l-4 3 4 3H1" fill="var(--color-good)" stroke="var(--color-good)" />
                  </svg>
                )}
                <span aria-hidden className="absolute top-full left-1/2 h-[11px] w-[3px] -translate-x-1/2 bg-ink" />
              </NavLink>
            </li>
          );
        })}
      </ol>
    </nav>
  );
}

import { type FlatSeam, IDENTITY, seamPlace } from '@gephyra/core/plan';
import { useMemo } from 'react';
import { useProject } from '../../project/project.tsx';
import { axisName, baseAxis, pointInPlan, seamTitle } from '../../project/seam-math.ts';
import { useWorkspace } from '../../project/selection.tsx';
import { Button } from '../../ui/button.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Part } from '../../ui/panels.tsx';
import { Switch } from '../../ui/switch.tsx';
import { Tick } from '../../ui/tick.tsx';
import { areaCut, onlyRegion, switched } from './choose-regions.ts';
import { FlatSection, THIN, WEAK } from './flat-section.tsx';
import type { SeamSection } from './use-section.ts';

interface Props {
  /** as the plan keeps it */
  readonly seam: FlatSeam;
  readonly section: SeamSection | null;
  readonly cut: readonly boolean[];
  readonly walls: boolean;
  onWalls(on: boolean): void;
}

/** The section's regions, each to be cut or left, and the box that bounds the seam. */
export function RegionsPanel({ seam, section, cut, walls, onWalls }: Props) {
  const { change, view } = useProject();
  const map = view?.map ?? IDENTITY;
  const place = useMemo(() => seamPlace(seam, map), [seam, map]);
  const title = seamTitle(seam);
  const regions = section?.regions ?? [];
  const toggle = (i: number): void => {
    const next = switched(seam.regions, regions, i, !cut[i], place);
    change(`${cut[i] ? 'Leave' : 'Cut'} region ${i + 1} of ${title}`, {
      do: 'setSeam',
      id: seam.id,
      set: { regions: next },
    });
  };
  const thin = section?.walls ? thinnest(section.walls) : null;
  return (
    <Part title="Regions" note={section ? `${(areaCut(section, cut) / 100).toFixed(1)} cm² cut` : ''}>
      {section ? (
        <FlatSection
          section={section}
          cut={cut}
          onToggle={seam.bound ? null : toggle}
          axes={[letters(section.frame.u), letters(section.frame.v)]}
        />
      ) : (
        <p className="text-ink-soft">Cutting the section.</p>
      )}
      {!seam.bound && (
        <ul aria-label="Regions of the section" className="mt-2">
          {regions.map((r, i) => (
            <li key={`${r.seed.join()}${r.area}`} className="flex items-center gap-2 py-0.5">
              <Tick
                tone="cut"
                className="grow"
                checked={cut[i] ?? true}
                label={`Cut region ${i + 1}, ${(r.area / 100).toFixed(1)} cm²`}
                onChange={() => toggle(i)}
              >
                <span className="flex justify-between">
                  <span>region {i + 1}</span>
                  <span className="num text-ink-soft">{(r.area / 100).toFixed(1)} cm²</span>
                </span>
              </Tick>
              <button
                type="button"
                className="text-lapis text-sm underline underline-offset-2"
                aria-label={`Cut only region ${i + 1}`}
                onClick={() =>
                  change(`Cut only region ${i + 1} of ${title}`, {
                    do: 'setSeam',
                    id: seam.id,
                    set: { regions: onlyRegion(r, place) },
                  })
                }
              >
                only
              </button>
            </li>
          ))}
        </ul>
      )}
      <div className="mt-2 flex flex-wrap items-center gap-1.5">
        {!seam.bound && seam.regions && seam.regions.mode !== 'all' && (
          <Button
            className="h-7"
            onClick={() =>
              change(`Cut all regions of ${title}`, {
                do: 'setSeam',
                id: seam.id,
                set: { regions: { mode: 'all', seeds: [] } },
              })
            }
          >
            Cut all
          </Button>
        )}
        <Switch checked={walls} onChange={onWalls}>
          colour by wall
        </Switch>
      </div>
      {walls && (
        <p className="mt-1 text-ink-soft text-sm">
          Red under {THIN} mm, ochre under {WEAK} mm, green above.
          {thin !== null && (
            <>
              {' '}
              Thinnest <span className="num">{thin.toFixed(2)} mm</span>.
            </>
          )}
        </p>
      )}
      <Bound seam={seam} section={section} />
    </Part>
  );
}

function thinnest(walls: Float32Array): number {
  let least = Infinity;
  for (let i = 4; i < walls.length; i += 5) least = Math.min(least, walls[i]);
  return least;
}

const letters = (n: readonly [number, number, number]): string => {
  const axis = baseAxis(n);
  return `${n[axis] < 0 ? '−' : ''}${axisName(axis)}`;
};

/** The box that bounds a seam: placed by a pick, sized by typed corners. In the plan's own millimetres. */
function Bound({ seam, section }: { seam: FlatSeam; section: SeamSection | null }) {
  const { change, view } = useProject();
  const { setPicker } = useWorkspace();
  const title = seamTitle(seam);
  const set = (label: string, bound: FlatSeam['bound']) =>
    change(label, { do: 'setSeam', id: seam.id, set: { bound } });
  const { bound } = seam;
  if (!bound) {
    return (
      <div className="mt-3 border-rule border-t pt-2">
        <p className="mb-1.5 text-ink-soft text-sm">
          Two limbs in one region? A box bounds the seam; what of it lies in the box comes off.
        </p>
        <Button
          className="h-7"
          disabled={!section}
          onClick={() =>
            setPicker({
              prompt: 'Pick the middle of the box on the model.',
              onPlace: ({ at }) => {
                setPicker(null);
                const [x, y, z] = pointInPlan(at, view?.map ?? IDENTITY);
                const half = section
                  ? Math.max(5, ...section.regions.slice(0, 1).map((r) => Math.sqrt(r.area) / 2))
                  : 20;
                const tidy = (n: number): number => Number(n.toFixed(1));
                set(`Bound ${title} by a box`, {
                  min: [tidy(x - half), tidy(y - half), tidy(z - half)],
                  max: [tidy(x + half), tidy(y + half), tidy(z + half)],
                });
              },
            })
          }
        >
          Bound by a box
        </Button>
      </div>
    );
  }
  return (
    <div className="mt-3 border-rule border-t pt-2">
      {(['min', 'max'] as const).map((end) => (
        <div key={end} className="mb-1.5 grid grid-cols-3 gap-1.5">
          {[0, 1, 2].map((a) => (
            <NumberField
              key={a}
              label={`Box ${axisName(a)} ${end === 'min' ? 'from' : 'to'}`}
              digits={1}
              value={bound[end][a]}
              onCommit={(x) => {
                const corner = [...bound[end]] as [number, number, number];
                corner[a] = x;
                set(`Size the box of ${title}`, { ...bound, [end]: corner });
              }}
            />
          ))}
        </div>
      ))}
      <Button className="h-7" onClick={() => set(`Take the box off ${title}`, undefined)}>
        Take the box off
      </Button>
    </div>
  );
}

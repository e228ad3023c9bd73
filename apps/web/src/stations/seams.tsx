import { freeId, IDENTITY, makeFrame, type Seam } from '@gephyra/core';
import { ArrowDown, ArrowUp, Trash2 } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { latest } from '../engine/engine.ts';
import type { SectionView } from '../engine/types.ts';
import { useProject } from '../plan/project.tsx';
import { useSelection, useStationView } from '../shell/workspace-state.tsx';
import { Button } from '../ui/button.tsx';
import { Findings } from '../ui/findings.tsx';
import { NumberField } from '../ui/number-field.tsx';
import { Rename } from '../ui/rename.tsx';
import { Caliper } from './caliper.tsx';
import { FlatOutline } from './flat-outline.tsx';
import { Facts, Ledger, Part, Side } from './panels.tsx';
import {
  axisName,
  baseAxis,
  leaning,
  leans,
  otherAxes,
  seamAcross,
  seamInPlan,
  seamOnModel,
  seamTitle,
} from './seam-math.ts';

/** Seams: their list, the caliper with the section profile, the section itself. */
export default function SeamsStation() {
  const { plan, view, model, change } = useProject();
  const [{ seam: chosen }, select] = useSelection();
  const choose = (seam: string): void => select({ seam });
  const map = view?.map ?? IDENTITY;
  const seams = useMemo(() => plan.seams.map((s) => seamOnModel(s, map)), [plan.seams, map]);
  const selected = seams.find((s) => s.id === chosen) ?? seams[0] ?? null;
  const [moving, setMoving] = useState<{ id: string; at: number } | null>(null);

  // what the seam would be at the place it is dragged to
  const live = useMemo(() => {
    if (!selected || moving?.id !== selected.id) return selected;
    const origin = [...selected.origin] as Seam['origin'];
    origin[baseAxis(selected.normal)] = moving.at;
    return { ...selected, origin };
  }, [selected, moving]);
  const section = useSection(live);
  const isMoving = moving !== null && moving.id === selected?.id;
  useStationView(
    useMemo(
      () => ({
        plain: plan.seams.length === 0,
        sheet: section && live?.enabled ? { frame: section.frame, section } : null,
        dragging: isMoving && section ? { normal: section.frame.normal, offset: section.frame.offset } : null,
      }),
      [section, live, isMoving, plan.seams.length],
    ),
  );

  const add = (axis: number): void => {
    if (!view || !model) return;
    const id = freeId('s', plan.seams);
    const { up: _, ...seam } = seamAcross(id, axis, bestPlace(axis), view.box);
    change(`Add a seam across ${axisName(axis)}`, { do: 'addSeam', seam: { ...seam, ...seamInPlan(seam, map) } });
    choose(id);
  };
  /** The middle of the longest stretch between seams of that axis. */
  const bestPlace = (axis: number): number => {
    const box = view!.box;
    const stops = [
      box.min[axis],
      ...seams.filter((s) => s.enabled && baseAxis(s.normal) === axis).map((s) => s.origin[axis]),
      box.max[axis],
    ].sort((a, b) => a - b);
    let best = 0;
    stops.forEach((x, i) => {
      if (i > 0 && i + 1 < stops.length && stops[i + 1] - x > stops[best + 1] - stops[best]) best = i;
    });
    return Number(((stops[best] + stops[best + 1]) / 2).toFixed(3));
  };

  return (
    <>
      <Ledger title="Seams">
        <div
          role="group"
          aria-label="Add a seam"
          className="mb-3 flex overflow-hidden rounded border border-ink bg-ink text-sheet"
        >
          {[0, 1, 2].map((axis) => (
            <button
              key={axis}
              type="button"
              aria-label={`Add a seam across ${axisName(axis)}`}
              disabled={!model || !view}
              className="h-[30px] grow border-ink-soft border-r last:border-r-0 hover:bg-[#2c3c47] disabled:opacity-50"
              onClick={() => add(axis)}
            >
              {axis === 0 ? 'Add across x' : axisName(axis)}
            </button>
          ))}
        </div>
        {plan.seams.length === 0 && (
          <p className="text-ink-soft">
            No seam yet. Add one across the axis on which the model is too long, then slide it on the caliper to where
            the section is narrow.
          </p>
        )}
        <ol className={plan.seams.length > 0 ? 'border-rule border-t' : ''} aria-label="Seams in order">
          {seams.map((seam, i) => (
            <SeamRow
              key={seam.id}
              seam={seam}
              index={i}
              selected={seam.id === selected?.id}
              onSelect={() => choose(seam.id)}
            />
          ))}
        </ol>
        <div className="mt-4">
          <Findings
            list={(view?.findings ?? []).filter((f) => f.code === 'piece.tooBig' || f.code.startsWith('seam'))}
          />
        </div>
      </Ledger>
      <Side>
        {selected && live ? (
          <>
            <Part title="Section profile" note={`along ${axisName(baseAxis(selected.normal))}, mm`}>
              <Caliper
                key={selected.id}
                seam={live}
                at={live.origin[baseAxis(live.normal)]}
                others={seams}
                onMove={(at) => setMoving({ id: selected.id, at })}
                onRelease={(at) => {
                  const axis = baseAxis(selected.normal);
                  const origin = [...selected.origin] as Seam['origin'];
                  origin[axis] = at;
                  setMoving(null);
                  change(`Move ${seamTitle(selected)} to ${at.toFixed(1)}`, {
                    do: 'setSeam',
                    id: selected.id,
                    set: { origin: seamInPlan({ ...selected, origin }, map).origin },
                  });
                }}
              />
            </Part>
            <SeamDetails seam={selected} section={section} />
          </>
        ) : (
          <Part title="Section profile">
            <p className="text-ink-soft">Add a seam, and its profile and place show here.</p>
          </Part>
        )}
      </Side>
    </>
  );
}

function SeamRow({
  seam,
  index,
  selected,
  onSelect,
}: {
  seam: Seam;
  index: number;
  selected: boolean;
  onSelect: () => void;
}) {
  const { plan, change } = useProject();
  const axis = baseAxis(seam.normal);
  const [a, b] = leans(seam.normal);
  const title = seamTitle(seam);
  const joints = plan.joints.filter((j) => j.seam === seam.id).length;
  const level = a === 0 && b === 0 ? `square to ${axisName(axis)}` : `leans ${Math.hypot(a, b).toFixed(1)}°`;
  return (
    <li
      className={`border-rule border-b ${selected ? '-mx-3.5 border-l-[3px] border-l-cut bg-cut-wash pr-3.5 pl-[11px]' : ''}`}
    >
      <div className="flex items-center gap-2.5 py-1.5">
        <input
          type="checkbox"
          checked={seam.enabled}
          aria-label={`${title} cuts`}
          className="h-4 w-4 shrink-0 accent-cut"
          onChange={(e) =>
            change(e.target.checked ? `Switch ${title} on` : `Switch ${title} off`, {
              do: 'setSeam',
              id: seam.id,
              set: { enabled: e.target.checked },
            })
          }
        />
        <button
          type="button"
          className="flex min-w-0 grow items-center gap-2 text-left"
          aria-current={selected}
          onClick={onSelect}
        >
          <span className={`min-w-0 grow ${seam.enabled ? '' : 'text-ink-soft'}`}>
            <span className={`block truncate ${selected ? 'font-semibold' : ''}`}>{title}</span>
            <span className="block text-ink-soft text-sm">
              {level}
              {joints > 0 ? `, ${joints} ${joints === 1 ? 'joint' : 'joints'}` : ''}
            </span>
          </span>
          <span className="num">{seam.origin[axis].toFixed(1)}</span>
        </button>
      </div>
      {selected && (
        <div className="flex items-center gap-1 pb-1.5 pl-6">
          <Button
            look="quiet"
            className="h-6 px-1.5 text-sm"
            disabled={index === 0}
            onClick={() => change(`Move ${title} up the list`, { do: 'moveSeam', id: seam.id, to: index - 1 })}
          >
            <ArrowUp size={13} aria-hidden /> earlier
          </Button>
          <Button
            look="quiet"
            className="h-6 px-1.5 text-sm"
            disabled={index === plan.seams.length - 1}
            onClick={() => change(`Move ${title} down the list`, { do: 'moveSeam', id: seam.id, to: index + 1 })}
          >
            <ArrowDown size={13} aria-hidden /> later
          </Button>
          <Button
            look="quiet"
            className="h-6 px-1.5 text-sm text-stop"
            onClick={() => change(`Delete ${title}`, { do: 'removeSeam', id: seam.id })}
          >
            <Trash2 size={13} aria-hidden /> delete
          </Button>
        </div>
      )}
    </li>
  );
}

function SeamDetails({ seam, section }: { seam: Seam; section: SectionView | null }) {
  const { change, view } = useProject();
  const axis = baseAxis(seam.normal);
  const [a, b] = leans(seam.normal);
  const [first, second] = otherAxes(axis);
  const map = view?.map ?? IDENTITY;
  const title = seamTitle(seam);
  const set = (label: string, next: Partial<Omit<Seam, 'id'>>): void =>
    change(label, { do: 'setSeam', id: seam.id, set: next });
  const lean = (first: number, second: number): void =>
    set(`Lean ${title}`, { normal: seamInPlan({ ...seam, normal: leaning(axis, first, second) }, map).normal });
  const outer = section?.loops.filter((l) => area(l) > 0).length ?? 0;
  return (
    <Part title="Seam">
      <div className="flex flex-col gap-2">
        <div>
          <span aria-hidden className="mb-0.5 block text-ink-soft text-sm">
            Name
          </span>
          <Rename
            value={title}
            label="Seam name"
            className="h-[30px] w-full"
            framed
            onCommit={(name) => set(`Rename ${title} to ${name}`, { name })}
          />
        </div>
        <NumberField
          label={`Position along ${axisName(axis)}`}
          value={seam.origin[axis]}
          onCommit={(x) => {
            const origin = [...seam.origin] as Seam['origin'];
            origin[axis] = x;
            set(`Move ${title} to ${x.toFixed(1)}`, { origin: seamInPlan({ ...seam, origin }, map).origin });
          }}
        />
        <div className="grid grid-cols-2 gap-2">
          <NumberField
            label={`Lean to ${axisName(first)}`}
            unit="°"
            value={a}
            min={-44}
            max={44}
            onCommit={(x) => lean(x, b)}
          />
          <NumberField
            label={`Lean to ${axisName(second)}`}
            unit="°"
            value={b}
            min={-44}
            max={44}
            onCommit={(x) => lean(a, x)}
          />
        </div>
        {section && (
          <div className="mt-1 flex items-center gap-3">
            <FlatOutline loops={section.loops} className="h-24 w-28 shrink-0" />
            <div className="grow">
              <Facts
                rows={[
                  ['Section', `${(section.area / 100).toFixed(1)} cm²`],
                  ['Regions', String(outer)],
                ]}
              />
            </div>
          </div>
        )}
      </div>
    </Part>
  );
}

const area = (l: Float64Array): number => {
  let sum = 0;
  for (let i = 0, j = l.length - 2; i < l.length; j = i, i += 2) sum += l[j] * l[i + 1] - l[i] * l[j + 1];
  return sum / 2;
};

/** The section of a seam, kept up with while it moves. */
function useSection(seam: Seam | null): SectionView | null {
  const { engine, view } = useProject();
  const [section, setSection] = useState<SectionView | null>(null);
  const request = useMemo(
    () =>
      engine
        ? latest(
            (s: Seam) => engine.section(makeFrame(s.origin, s.normal, s.up)),
            setSection,
            () => setSection(null),
          )
        : null,
    [engine],
  );
  const last = useRef('');
  useEffect(() => {
    if (!seam || !request || !view) {
      if (!seam) setSection(null);
      return;
    }
    const key = `${seam.origin.join()}|${seam.normal.join()}|${view.map.join()}|${view.box.max.join()}`;
    if (last.current === key) return;
    last.current = key;
    request(seam);
  }, [seam, request, view]);
  return seam ? section : null;
}

import { type Seam, seamKind } from '@gephyra/core/plan';
import { useEffect, useRef } from 'react';
import { useProject } from '../../project/project.tsx';
import { baseAxis, leans, seamTitle } from '../../project/seam-math.ts';
import { useSelection } from '../../project/selection.tsx';
import { type MenuEntry, Offers } from '../../ui/menu.tsx';
import { OrderKeys } from '../../ui/order-keys.tsx';
import { Sorted, useSorted } from '../../ui/sorted.tsx';
import { Tick } from '../../ui/tick.tsx';

/** The seams in the order in which they cut. */
export function SeamList({ seams, selected }: { seams: readonly Seam[]; selected: string | null }) {
  const { change } = useProject();
  const nameOf = (id: string): string => {
    const seam = seams.find((s) => s.id === id);
    return seam ? seamTitle(seam) : id;
  };
  if (seams.length === 0) {
    return (
      <p className="text-ink-soft">
        No seam yet. Add one across the axis on which the model is too long, then slide it on the caliper to where the
        section is narrow.
      </p>
    );
  }
  return (
    <Sorted
      label="Seams in order"
      className="border-rule border-t"
      ids={seams.map((s) => s.id)}
      nameOf={nameOf}
      onMove={(id, to) =>
        change(`Move ${nameOf(id)} ${to < seams.findIndex((s) => s.id === id) ? 'up' : 'down'} the list`, {
          do: 'moveSeam',
          id,
          to,
        })
      }
    >
      {seams.map((seam, i) => (
        <SeamRow key={seam.id} seam={seam} index={i} last={i === seams.length - 1} selected={seam.id === selected} />
      ))}
    </Sorted>
  );
}

/** What a seam is, in a few words. */
function describe(seam: Seam): string {
  const lean = Math.hypot(...leans(seam.normal));
  const way = lean < 0.05 ? '' : `, leans ${lean.toFixed(1)}°`;
  const limits = [
    seam.scope ? `${seam.scope.length} ${seam.scope.length === 1 ? 'piece' : 'pieces'} only` : '',
    seam.kind === 'flat' && seam.bound ? 'in a box' : '',
    seam.kind === 'flat' && seam.regions && seam.regions.mode !== 'all'
      ? seam.regions.mode === 'only'
        ? `${seam.regions.seeds.length} ${seam.regions.seeds.length === 1 ? 'region' : 'regions'} only`
        : `all but ${seam.regions.seeds.length}`
      : '',
  ].filter(Boolean);
  const kind = seamKind(seam).said(seam);
  return [seam.kind === 'flat' && way ? way.slice(2) : kind + way, ...limits].join(', ');
}

function SeamRow({ seam, index, last, selected }: { seam: Seam; index: number; last: boolean; selected: boolean }) {
  const { plan, change } = useProject();
  const [, select] = useSelection();
  const title = seamTitle(seam);
  const { ref, style, grip } = useSorted(seam.id, title);
  const joints = plan.joints.filter((j) => j.seam === seam.id).length;
  const seen = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (selected) seen.current?.scrollIntoView?.({ block: 'nearest' });
  }, [selected]);
  const turn = (enabled: boolean): void =>
    void change(enabled ? `Switch ${title} on` : `Switch ${title} off`, {
      do: 'setSeam',
      id: seam.id,
      set: { enabled },
    });
  const move = (to: number): void =>
    void change(`Move ${title} ${to < index ? 'up' : 'down'} the list`, { do: 'moveSeam', id: seam.id, to });
  const remove = (): void => void change(`Delete ${title}`, { do: 'removeSeam', id: seam.id });
  const offers: readonly MenuEntry[] = [
    { title: 'Show it', run: () => select({ seam: seam.id, tool: null }) },
    { title: seam.enabled ? 'Switch it off' : 'Switch it on', run: () => turn(!seam.enabled) },
    { title: 'Cut earlier', off: index === 0, run: () => move(index - 1), apart: true },
    { title: 'Cut later', off: last, run: () => move(index + 1) },
    { title: 'Delete it', danger: true, apart: true, run: remove },
  ];
  return (
    <Offers entries={offers}>
      <li
        ref={ref}
        style={style}
        className={`border-rule border-b ${selected ? '-mx-3.5 border-l-[3px] border-l-cut bg-cut-wash pr-3.5 pl-[11px]' : ''}`}
      >
        <div ref={seen} className="flex items-center gap-2.5 py-1.5">
          {grip}
          <Tick tone="cut" checked={seam.enabled} label={`${title} cuts`} onChange={turn} />
          <button
            type="button"
            className="flex min-w-0 grow items-center gap-2 text-left"
            aria-current={selected}
            onClick={() => select({ seam: seam.id, ...(selected ? {} : { tool: null }) })}
          >
            <span className={`min-w-0 grow ${seam.enabled ? '' : 'text-ink-soft'}`}>
              <span className={`block truncate ${selected ? 'font-semibold' : ''}`}>{title}</span>
              <span className="block text-ink-soft text-sm">
                {describe(seam)}
                {joints > 0 ? `, ${joints} ${joints === 1 ? 'joint' : 'joints'}` : ''}
              </span>
            </span>
            {seam.kind === 'flat' && <span className="num">{seam.origin[baseAxis(seam.normal)].toFixed(1)}</span>}
          </button>
        </div>
        {selected && <OrderKeys className="pb-1.5" index={index} last={last} onMove={move} onDelete={remove} />}
      </li>
    </Offers>
  );
}

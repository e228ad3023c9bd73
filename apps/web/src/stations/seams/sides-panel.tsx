import type { Seam } from '@gephyra/core/plan';
import { seamCommon } from '@gephyra/core/plan';
import { useEffect, useState } from 'react';
import type { SeamSides } from '../../engine/seams.ts';
import type { PieceView } from '../../engine/types.ts';
import { overText, sizeText } from '../../project/piece-words.ts';
import { useProject } from '../../project/project.tsx';
import { seamTitle } from '../../project/seam-math.ts';
import { useSelection } from '../../project/selection.tsx';
import { bounded } from '../../ui/bounded.ts';
import { NumberField } from '../../ui/number-field.tsx';
import { Part } from '../../ui/panels.tsx';
import { Tick } from '../../ui/tick.tsx';

const percent = (share: number): string => `${Math.round(share * 100)} %`;

/** The rims of a seam's faces bevelled: a groove to fill, or a little against a first layer's bulge. */
function EdgePart({ seam }: { seam: Seam }) {
  const { change } = useProject();
  const title = seamTitle(seam);
  const { edge } = seam;
  const set = (label: string, next: Seam['edge']) => change(label, { do: 'setSeam', id: seam.id, set: { edge: next } });
  return (
    <Part title="Groove along the edge" note={edge ? 'on both pieces, mm' : ''}>
      <div className="flex flex-col gap-2">
        <Tick
          tone="cut"
          checked={edge !== undefined}
          onChange={(on) =>
            set(
              `${on ? 'Groove along' : 'No groove along'} ${title}`,
              on ? { width: 1, depth: 1, all: false, clear: false } : undefined,
            )
          }
        >
          bevel the rims of its flat faces
        </Tick>
        {edge && (
          <>
            <div className="grid grid-cols-2 gap-2">
              <NumberField
                label="Into the face"
                {...bounded(seamCommon.edge.unwrap().shape.width)}
                step={0.5}
                value={edge.width}
                onCommit={(width) => set(`Width of the groove of ${title}`, { ...edge, width })}
              />
              <NumberField
                label="Along the skin"
                {...bounded(seamCommon.edge.unwrap().shape.depth)}
                step={0.5}
                value={edge.depth}
                onCommit={(depth) => set(`Depth of the groove of ${title}`, { ...edge, depth })}
              />
            </div>
            <Tick tone="cut" checked={edge.all} onChange={(all) => set(`Rims of ${title}`, { ...edge, all })}>
              openings inside the face, too
            </Tick>
            <Tick tone="cut" checked={edge.clear} onChange={(clear) => set(`Rims of ${title}`, { ...edge, clear })}>
              not over show faces
            </Tick>
          </>
        )}
      </div>
    </Part>
  );
}

/** What is carved into the faces of a seam: channels that take up glue, and relief where they meet others. */
function CarvedPart({ seam }: { seam: Seam }) {
  const { change } = useProject();
  const title = seamTitle(seam);
  const { channel, relief } = seam;
  const set = (label: string, next: Partial<Pick<Seam, 'channel' | 'relief'>>) =>
    change(label, { do: 'setSeam', id: seam.id, set: next });
  const size = (label: string, name: 'inset' | 'width' | 'depth') =>
    channel && (
      <NumberField
        label={label}
        {...bounded(seamCommon.channel.unwrap().shape[name])}
        step={0.5}
        value={channel[name]}
        onCommit={(x) => set(`Channels of ${title}`, { channel: { ...channel, [name]: x } })}
      />
    );
  return (
    <Part title="Carved into its faces" note={channel || relief ? 'on both pieces, mm' : ''}>
      <div className="flex flex-col gap-2">
        <Tick
          tone="cut"
          checked={channel !== undefined}
          onChange={(on) =>
            set(`${on ? 'Channels for glue at' : 'No channels at'} ${title}`, {
              channel: on ? { inset: 4, width: 1.5, depth: 1 } : undefined,
            })
          }
        >
          channels that take up glue
        </Tick>
        {channel && (
          <div className="grid grid-cols-3 gap-2">
            {size('From the rim', 'inset')}
            {size('Width', 'width')}
            {size('Depth', 'depth')}
          </div>
        )}
        <Tick
          tone="cut"
          checked={relief !== undefined}
          onChange={(on) => set(`${on ? 'Relief at' : 'No relief at'} ${title}`, { relief: on ? 0.6 : undefined })}
        >
          relief where its faces meet others
        </Tick>
        {relief !== undefined && (
          <NumberField
            label="Relief"
            {...bounded(seamCommon.relief)}
            step={0.1}
            value={relief}
            onCommit={(x) => set(`Relief at ${title}`, { relief: x })}
          />
        )}
      </div>
    </Part>
  );
}

/** A band that bridges the seam from inside a hollow, printed by itself. */
function BackingPart({ seam }: { seam: Seam }) {
  const { view, change } = useProject();
  const title = seamTitle(seam);
  const { backing } = seam;
  const set = (label: string, next: Seam['backing']) =>
    change(label, { do: 'setSeam', id: seam.id, set: { backing: next } });
  const made = view?.loose.filter((l) => l.seam === seam.id) ?? [];
  return (
    <Part title="Backing strip" note={backing ? 'a loose part, mm' : ''}>
      <div className="flex flex-col gap-2">
        <Tick
          tone="cut"
          checked={backing !== undefined}
          onChange={(on) =>
            set(
              `${on ? 'Backing strip at' : 'No backing strip at'} ${title}`,
              on ? { width: 12, thickness: 2, gap: 0.2 } : undefined,
            )
          }
        >
          bridge it from inside, round a hollow or along an open shell
        </Tick>
        {backing && (
          <>
            <div className="grid grid-cols-3 gap-2">
              <NumberField
                label="Width"
                {...bounded(seamCommon.backing.unwrap().shape.width)}
                value={backing.width}
                onCommit={(width) => set(`Width of the backing strip of ${title}`, { ...backing, width })}
              />
              <NumberField
                label="Thickness"
                {...bounded(seamCommon.backing.unwrap().shape.thickness)}
                step={0.5}
                value={backing.thickness}
                onCommit={(thickness) => set(`Thickness of the backing strip of ${title}`, { ...backing, thickness })}
              />
              <NumberField
                label="Gap"
                {...bounded(seamCommon.backing.unwrap().shape.gap)}
                step={0.1}
                value={backing.gap}
                onCommit={(gap) => set(`Gap of the backing strip of ${title}`, { ...backing, gap })}
              />
            </div>
            {made.map((l) => (
              <p key={l.what} className="text-sm">
                {l.count} × {l.what}
              </p>
            ))}
          </>
        )}
      </div>
    </Part>
  );
}

/** What a seam leaves on either side, and how much of it will be seen. */
export function SidesPanel({ seam }: { seam: Seam }) {
  const { plan, engine, view, busy } = useProject();
  const [found, setFound] = useState<SeamSides | null>(null);
  useEffect(() => {
    if (!engine || !view || busy) return;
    let alive = true;
    engine.sides(plan, seam.id).then(
      (sides) => alive && setFound(sides),
      () => {},
    );
    return () => {
      alive = false;
    };
  }, [engine, view, busy, plan, seam.id]);
  if (!found) return <Part title="Sides">{<p className="text-ink-soft">Measuring both sides.</p>}</Part>;
  const { showing } = found;
  const overShow = view?.findings.find((f) => f.code === 'seam.show' && f.where.seam === seam.id);
  return (
    <>
      {found.sides.map(({ side, pieces }) => (
        <Part key={side} title={side > 0 ? 'The side it points to' : 'The other side'}>
          {pieces.length === 0 && <p className="text-ink-soft">Nothing is parted here.</p>}
          <ul className="flex flex-col gap-2.5">
            {pieces.map((p) => {
              const piece = view?.pieces.find((x) => x.key === p.piece);
              return piece ? <SidePieceRow key={p.piece} piece={piece} own={p} nozzle={plan.printer.nozzle} /> : null;
            })}
          </ul>
        </Part>
      ))}
      <EdgePart seam={seam} />
      <CarvedPart seam={seam} />
      <BackingPart seam={seam} />
      {showing && (
        <Part title="How much it shows" note={seamTitle(seam)}>
          <div aria-hidden className="flex h-3 overflow-hidden rounded border border-rule">
            <span style={{ width: percent(showing.smooth) }} className="bg-cut" />
            <span style={{ width: percent(showing.under) }} className="bg-warn" />
            <span style={{ width: percent(showing.crease) }} className="bg-lapis" />
            <span style={{ width: percent(showing.inside) }} className="bg-rule-strong" />
          </div>
          <p className="mt-1.5 text-sm">
            <span className="text-cut">{percent(showing.smooth)} on smooth outer surface</span>,{' '}
            <span className="text-lapis">{percent(showing.crease)} in a crease</span>,{' '}
            <span className="text-warn">{percent(showing.under)} underneath</span>, {percent(showing.inside)} inside.
          </p>
          {overShow && <p className="mt-1 text-sm">{overShow.message}</p>}
        </Part>
      )}
    </>
  );
}

function SidePieceRow({
  piece,
  own,
  nozzle,
}: {
  piece: PieceView;
  own: SeamSides['sides'][number]['pieces'][number];
  nozzle: number;
}) {
  const [, select] = useSelection();
  const base = own.overhang < 0.05 ? 'good base' : own.overhang < 0.2 ? 'fair base' : 'poor base';
  return (
    <li>
      <button
        type="button"
        className="text-left font-semibold hover:underline"
        onClick={() => select({ piece: piece.key })}
      >
        {piece.code} {piece.name}
      </button>
      <dl className="mt-0.5 grid grid-cols-[auto_1fr] gap-x-3 text-sm">
        <dt className="text-ink-soft">size</dt>
        <dd className={`text-right ${piece.build.within ? '' : 'text-stop'}`}>
          <span className="num">{sizeText(piece.size)}</span> {piece.build.within ? 'fits' : overText(piece)}
        </dd>
        <dt className="text-ink-soft">cut area</dt>
        <dd className="num text-right">{own.areas.map((a) => (a / 100).toFixed(1)).join(' + ')} cm²</dd>
        <dt className="text-ink-soft">lying on it</dt>
        <dd className="text-right">
          {base}, <span className="num">{percent(own.overhang)}</span> overhangs
        </dd>
        {own.feather > 0.02 && (
          <>
            <dt className="text-warn">feather edge</dt>
            <dd className="num text-right text-warn">{percent(own.feather)} of the rim</dd>
          </>
        )}
        {own.widest < 2 * nozzle && (
          <>
            <dt className="text-warn">narrow</dt>
            <dd className="num text-right text-warn">{(own.widest * 2).toFixed(2)} mm wide</dd>
          </>
        )}
      </dl>
    </li>
  );
}

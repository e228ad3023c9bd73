import { useEffect, useMemo, useRef, useState } from 'react';
import type { PieceView } from '../engine/types.ts';
import { usePieceOffers } from '../project/piece-offers.ts';
import { overText, sizeText } from '../project/piece-words.ts';
import { useProject } from '../project/project.tsx';
import { useSelection } from '../project/selection.tsx';
import { LongList } from '../ui/long-list.tsx';
import { Offers } from '../ui/menu.tsx';

const SIZE = 58;

/** The shelf of pieces along the bottom: one card each. */
export function Shelf() {
  const { view, plan, busy } = useProject();
  const pictures = usePictures();
  const [{ piece: selected }, select] = useSelection();
  const [each, setEach] = useState(false);
  const offers = usePieceOffers();
  const files = useFiles();
  const pieces = view?.pieces ?? [];
  const fitting = pieces.filter((p) => p.build.within).length;
  const grouped = files.some((f) => f.total > 1);
  const cards = each ? pieces.map((p) => ({ piece: p, total: 1, mirrored: 0, keys: [p.key] })) : files;
  return (
    <section aria-label="Shelf of pieces" className="flex h-full min-w-0 items-stretch bg-sheet">
      <LongList
        label="Pieces on the shelf"
        sideways
        items={cards}
        keyOf={({ piece }) => piece.key}
        about={200}
        gap={8}
        chosen={selected === null ? -1 : cards.findIndex(({ keys }) => keys.includes(selected))}
        className="slim-scroll flex min-w-0 grow gap-2 overflow-x-auto px-3 py-2 [&>li]:shrink-0"
      >
        {({ piece: p, total, mirrored, keys }) => (
          <Offers entries={offers(p)}>
            <button
              type="button"
              aria-pressed={selected !== null && keys.includes(selected)}
              onClick={() => select({ piece: selected !== null && keys.includes(selected) ? null : p.key })}
              className={`flex h-[74px] min-w-48 max-w-80 items-center gap-2 rounded border px-1.5 text-left ${selected !== null && keys.includes(selected) ? 'border-lapis bg-lapis-wash' : p.stops.length > 0 ? 'border-stop' : 'border-rule-strong hover:border-ink'}`}
            >
              <Picture pixels={pictures.get(p.key)} colour={p.tint} />
              <span className="min-w-0 pr-1.5 leading-[18px]">
                <span className="block truncate">
                  {total > 1 && <strong className="num text-lapis">{total} × </strong>}
                  <strong className="font-semibold">{p.code}</strong> {p.name}
                </span>
                <span className="num block text-[12px] text-ink-soft">{sizeText(p.size)}</span>
                <span
                  className={`block truncate text-sm ${p.build.within ? (p.stops.length > 0 ? 'text-stop' : 'text-good') : 'text-stop'}`}
                >
                  {p.aside
                    ? 'set aside'
                    : p.spare && p.build.within && p.stops.length === 0
                      ? 'fits, left off'
                      : !p.build.within
                        ? overText(p)
                        : p.stops.length > 0
                          ? `${p.stops.length} to mend`
                          : mirrored > 0
                            ? `fits, ${mirrored} mirrored`
                            : total > 1
                              ? 'fits, one file'
                              : 'fits'}
                </span>
              </span>
            </button>
          </Offers>
        )}
      </LongList>
      <div
        className="flex w-52 shrink-0 flex-col justify-center border-rule border-l px-3 text-right"
        aria-live="polite"
      >
        {view ? (
          <>
            <p>
              <strong className="font-semibold">{pieces.length === 1 ? '1 piece' : `${pieces.length} pieces`}</strong>,{' '}
              {fitting} fit
            </p>
            {grouped && (
              <button
                type="button"
                aria-pressed={each}
                className="self-end text-lapis text-sm underline underline-offset-2"
                onClick={() => setEach(!each)}
              >
                {each ? 'equal ones together' : 'each by itself'}
              </button>
            )}
            <p className="text-ink-soft text-sm">
              {plan.printer.name}
              <br />
              <span className="num text-[12px]">{plan.printer.size.join(' × ')}</span>
            </p>
          </>
        ) : null}
        {busy && <p className="text-ink-soft text-sm">computing</p>}
      </div>
    </section>
  );
}

/** Pieces by the files they are made from: equal ones and declared copies stand with the first of them. */
function useFiles(): { piece: PieceView; total: number; mirrored: number; keys: string[] }[] {
  const { view, alike } = useProject();
  return useMemo(() => {
    const pieces = view?.pieces ?? [];
    const home = alike.files;
    return pieces
      .filter((p) => !home.has(p.key))
      .map((piece) => {
        const copies = pieces.filter((p) => home.get(p.key)?.of === piece.key);
        return {
          piece,
          total: 1 + copies.length,
          mirrored: copies.filter((p) => home.get(p.key)?.mirrored).length,
          keys: [piece.key, ...copies.map((p) => p.key)],
        };
      });
  }, [view, alike]);
}

function Picture({ pixels, colour }: { pixels: Uint8ClampedArray | undefined; colour: string }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context || !pixels) return;
    context.putImageData(new ImageData(new Uint8ClampedArray(pixels), SIZE, SIZE), 0, 0);
  }, [pixels]);
  return (
    <canvas
      ref={canvas}
      width={SIZE}
      height={SIZE}
      aria-hidden
      className="h-[58px] w-[58px] shrink-0 border-l-4"
      style={{ borderColor: colour }}
    />
  );
}

/** Small pictures of the pieces, drawn by the worker when a piece has changed. */
function usePictures(): ReadonlyMap<string, Uint8ClampedArray> {
  const { view, searcher, plan, busy } = useProject();
  const [pictures, setPictures] = useState<ReadonlyMap<string, Uint8ClampedArray>>(new Map());
  const drawn = useRef(new Map<string, string>());
  useEffect(() => {
    if (!view || !searcher || busy) return;
    const wanted = view.pieces.flatMap((p) => {
      const print = `${p.skin}${p.tint}`;
      return drawn.current.get(p.key) === print ? [] : [{ key: p.key, print, colour: p.tint }];
    });
    if (wanted.length === 0) return;
    const left = new AbortController();
    searcher
      .ask((engine) => engine.pictures(plan, wanted, SIZE, SIZE), { forget: left.signal })
      .then((made) => {
        if (left.signal.aborted) return;
        for (const { key, print } of wanted) drawn.current.set(key, print);
        setPictures((old) => new Map([...old, ...made.map(({ key, pixels }) => [key, pixels] as const)]));
      })
      .catch(() => {});
    return () => left.abort();
  }, [view, searcher, plan, busy]);
  return pictures;
}

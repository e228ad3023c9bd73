import { hoursText } from '@gephyra/core/plan';
import { useEffect, useRef } from 'react';
import { Button } from '../../ui/button.tsx';
import { type Shown, SIZE } from './use-proposals.ts';

/** A proposal with its picture and figures, to be taken. */
export function ProposalCard({
  shown: { title, view, weighed },
  best,
  onPoint,
  onTake,
}: {
  shown: Shown;
  best: boolean;
  onPoint: (on: boolean) => void;
  onTake: () => void;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    context?.putImageData(new ImageData(new Uint8ClampedArray(view.pixels), ...SIZE), 0, 0);
  }, [view.pixels]);
  const { figures: f } = view;
  const rows = [
    ['Pieces', String(f.pieces)],
    ['Seams', String(view.seams.length)],
    ['Glued', `${(f.seamArea / 100).toFixed(0)} cm²`],
    ['Seen', `${(f.seenLength / 1000).toFixed(2)} m`],
    ...(view.unlike === null
      ? []
      : [['Both sides', view.unlike === 0 ? 'the same' : `${view.unlike} differ`] as const]),
    ...(weighed
      ? ([
          ['Printing', hoursText(weighed.hours)],
          ['Support', `${weighed.support.toFixed(0)} g`],
          ['Bare faces', String(weighed.bare)],
          ...(weighed.refused > 0 ? [['Joints refused', String(weighed.refused)] as const] : []),
        ] as const)
      : []),
  ] as const;
  return (
    <li
      className="grid grid-cols-[132px_1fr] gap-2 border-rule border-t pt-2"
      onMouseEnter={() => onPoint(true)}
      onMouseLeave={() => onPoint(false)}
      onFocus={() => onPoint(true)}
      onBlur={() => onPoint(false)}
    >
      <canvas ref={canvas} width={SIZE[0]} height={SIZE[1]} aria-hidden className="block bg-paper" />
      <div className="min-w-0">
        <p className="font-semibold">{title}</p>
        {best && <p className="text-good text-sm">Best by these figures and your wishes</p>}
        <dl className="grid grid-cols-[auto_1fr] gap-x-2 text-sm leading-[17px]">
          {rows.map(([name, text]) => (
            <div key={name} className="contents">
              <dt className="text-ink-soft">{name}</dt>
              <dd className="num text-right">{text}</dd>
            </div>
          ))}
        </dl>
        {f.fits < f.pieces && <p className="text-sm text-stop">{f.pieces - f.fits} still too large</p>}
        <Button look="main" className="mt-1 h-7 w-full" aria-label={`Take the proposal ${title}`} onClick={onTake}>
          Take it
        </Button>
      </div>
    </li>
  );
}

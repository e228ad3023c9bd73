import { Pause, Play } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import type { FaceHelp } from '../../engine/joints.ts';
import type { FaceView, JointView } from '../../engine/types.ts';
import { useProject } from '../../project/project.tsx';
import { Button } from '../../ui/button.tsx';
import { Choice } from '../../ui/choice.tsx';
import { Companion, Part } from '../../ui/panels.tsx';
import { Slide } from '../../ui/slide.tsx';
import { Switch } from '../../ui/switch.tsx';
import { MatingFaceView } from './face-view.tsx';

/** How the pieces of a face are shown in the 3D view. */
export interface Opened {
  readonly how: 'together' | 'book' | 'slide';
  /** how far they are apart on their way in, 0 … 1 */
  readonly share: number;
}

/** The flat view of a face, either side or both, and how the 3D view shows it. */
export function FacePanel({
  face,
  joints,
  selected,
  troubled,
  help,
  live,
  onSelect,
  onPlace,
  onMove,
  onMoving,
}: {
  face: FaceView;
  joints: readonly JointView[];
  selected: string | null;
  troubled: ReadonlyMap<string, 'stop' | 'warn'>;
  help: FaceHelp | null;
  live: JointView | null;
  onSelect: (id: string) => void;
  onPlace: (u: number, v: number) => void;
  onMove: (id: string, u: number, v: number) => void;
  onMoving: (at: { id: string; u: number; v: number } | null) => void;
}) {
  const { view } = useProject();
  const [seen, setSeen] = useState<'0' | '1' | 'both'>('0');
  const [heat, setHeat] = useState(true);
  const [zoomed, setNear] = useState<boolean | null>(null);
  // a joint in a thin wall would be a speck: there the drawing follows the chosen one by itself
  const near = zoomed ?? ((help?.middle.length ?? 0) > 0 && joints.some((j) => j.id === selected));
  const codes = face.pieces.map((key) => view?.pieces.find((p) => p.key === key)?.code ?? '?');
  const shear = joints.filter((j) => j.built).reduce((sum, j) => sum + j.shear, 0);
  const taken = joints.reduce((sum, j) => sum + Math.max(0, ...[...j.own, ...j.other].map((o) => areaOf(o.loop))), 0);
  const common = { face, joints, selected, troubled, help, heat, near, live, onSelect, onPlace, onMove, onMoving };
  const sides: (0 | 1)[] = seen === 'both' ? [0, 1] : [seen === '0' ? 0 : 1];
  return (
    <Companion title="Mating face" note={`${codes[0]} to ${codes[1]}`}>
      <div className={sides.length > 1 ? 'grid grid-cols-2 gap-1.5' : ''}>
        {sides.map((side) => (
          <MatingFaceView
            key={`${face.id} ${side}`}
            {...common}
            side={side}
            title={`Mating face of ${codes[side]}, flat`}
          />
        ))}
      </div>
      <div className="mt-2 flex items-end gap-2">
        <div className="grow">
          <Choice
            label="Side"
            value={seen}
            options={[
              { value: '0', label: codes[0] },
              { value: '1', label: codes[1] },
              { value: 'both', label: 'both' },
            ]}
            onChange={(next) => setSeen(next)}
          />
        </div>
        <Switch className="h-[30px]" checked={heat} onChange={setHeat}>
          Room
        </Switch>
        <Switch className="h-[30px]" checked={near} onChange={setNear}>
          Zoom
        </Switch>
      </div>
      <p className="num mt-2 text-[13px] text-ink-soft">
        {((face.area - taken) / 100).toFixed(1)} cm² to bond, {shear.toFixed(0)} mm² to shear, widest circle{' '}
        {(2 * face.pole.distance).toFixed(1)} mm
      </p>
    </Companion>
  );
}

/** Opens the face like a book in the 3D view, or slides its pieces together. */
export function Book({ face, opened, onOpened }: { face: FaceView; opened: Opened; onOpened: (next: Opened) => void }) {
  const { view } = useProject();
  const ways = view?.ways.find((w) => w.faces.includes(face.id)) ?? null;
  const way = ways !== null && ways.out !== null;
  const [playing, setPlaying] = useState(false);
  const frame = useRef(0);
  const tell = useRef(onOpened);
  tell.current = onOpened;
  useEffect(() => {
    if (!playing) return;
    const still = window.matchMedia('(prefers-reduced-motion: reduce)').matches;
    const start = performance.now();
    const step = (now: number): void => {
      const share = still ? 0 : Math.max(0, 1 - (now - start) / 2200);
      tell.current({ how: 'slide', share });
      if (share > 0) frame.current = requestAnimationFrame(step);
      else setPlaying(false);
    };
    frame.current = requestAnimationFrame(step);
    return () => cancelAnimationFrame(frame.current);
  }, [playing]);
  return (
    <Part title="Way in">
      <div className="flex flex-col gap-1.5">
        <Choice
          label="In the 3D view"
          value={opened.how}
          options={[
            { value: 'together', label: 'as it is' },
            { value: 'book', label: 'open like a book' },
            { value: 'slide', label: 'slide in' },
          ]}
          onChange={(how) => {
            setPlaying(false);
            onOpened({ how, share: 1 });
          }}
        />
        {opened.how === 'slide' && (
          <div className="flex items-center gap-2">
            <Button disabled={!way} onClick={() => setPlaying(!playing)}>
              {playing ? <Pause size={14} aria-hidden /> : <Play size={14} aria-hidden />} {playing ? 'Stop' : 'Play'}
            </Button>
            <Slide
              label="How far apart the pieces are"
              className="grow"
              min={0}
              max={100}
              step={1}
              value={Math.round(opened.share * 100)}
              text={`${Math.round(opened.share * 100)} %`}
              onChange={(percent) => {
                setPlaying(false);
                onOpened({ how: 'slide', share: percent / 100 });
              }}
            />
          </div>
        )}
        {ways && ways.out === null && (
          <p className="text-stop">These pieces have no common way in with the faces that close at the same time.</p>
        )}
      </div>
    </Part>
  );
}

function areaOf(l: Float64Array): number {
  let sum = 0;
  for (let i = 0, j = l.length - 2; i < l.length; j = i, i += 2) sum += l[j] * l[i + 1] - l[i] * l[j + 1];
  return Math.abs(sum) / 2;
}

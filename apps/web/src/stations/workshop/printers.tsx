import type { Print } from '@gephyra/contract';
import { hoursText, type Printer } from '@gephyra/core/plan';
import { isUnderWay } from '../../project/use-bed-prints.ts';
import { Bar } from '../../ui/bar.tsx';
import { Button } from '../../ui/button.tsx';
import { Fold } from '../../ui/fold.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Part } from '../../ui/panels.tsx';
import { Pick } from '../../ui/pick.tsx';

/** How a simulated printer is to behave. */
export interface Simulation {
  readonly pace: number;
  /** percent printed at which it fails; null: it does not */
  readonly failAt: number | null;
}

const PACES = [
  { value: '1', label: 'as fast as the clock' },
  { value: '60', label: 'an hour in a minute' },
  { value: '3600', label: 'an hour in a second' },
] as const;

const STATE_WORDS: Record<Print['state'], string> = {
  heating: 'heats',
  printing: 'prints',
  paused: 'paused',
  done: 'done',
  failed: 'failed',
  stopped: 'stopped',
};

/** The printers of the plan: what each is at, how far it is, and how it is held up. */
export function Printers({
  printers,
  prints,
  simulation,
  onSimulation,
  onAct,
}: {
  printers: readonly Printer[];
  prints: readonly Print[];
  simulation: Simulation;
  onSimulation(next: Simulation): void;
  onAct(print: Print, what: 'pause' | 'resume' | 'stop'): void;
}) {
  const names = [...new Set(printers.map((p) => p.name))];
  return (
    <Part title="Printers" note="simulated">
      <ul aria-label="Printers" className="mb-2 flex flex-col gap-2">
        {names.map((name) => {
          const print = prints.find((p) => p.printer === name && isUnderWay(p));
          return (
            <li key={name} className="border-rule border-t pt-1.5">
              <div className="flex items-baseline justify-between gap-2">
                <strong className="min-w-0 truncate font-semibold">{name}</strong>
                <span className="shrink-0 text-ink-soft text-sm">
                  {print ? `${STATE_WORDS[print.state]} ${print.title}` : 'free'}
                </span>
              </div>
              {print && <Run print={print} onAct={(what) => onAct(print, what)} />}
            </li>
          );
        })}
      </ul>
      <Fold title="How they are simulated">
        <div className="mt-1 flex flex-col gap-2">
          <Pick
            label="Time"
            value={String(simulation.pace)}
            options={PACES}
            onChange={(x) => onSimulation({ ...simulation, pace: Number(x) })}
          />
          <NumberField
            label="The next print fails at (100: not)"
            unit="%"
            min={0}
            max={100}
            value={simulation.failAt ?? 100}
            onCommit={(x) => onSimulation({ ...simulation, failAt: x >= 100 ? null : x })}
          />
        </div>
      </Fold>
    </Part>
  );
}

function Run({ print, onAct }: { print: Print; onAct(what: 'pause' | 'resume' | 'stop'): void }) {
  const { title, share, layer, layers, secondsLeft, state } = print;
  return (
    <div className="mt-1">
      <Bar label={`${title} is printed`} share={share} className="w-full" />
      <p className="num text-ink-soft text-sm">
        layer {layer} of {layers}, {hoursText(secondsLeft / 3600)} left
      </p>
      <div className="mt-1 flex gap-2">
        <Button
          className="h-7"
          aria-label={state === 'paused' ? `Go on with ${title}` : `Pause ${title}`}
          onClick={() => onAct(state === 'paused' ? 'resume' : 'pause')}
        >
          {state === 'paused' ? 'Go on' : 'Pause'}
        </Button>
        <Button className="h-7" aria-label={`Stop ${title}`} onClick={() => onAct('stop')}>
          Stop
        </Button>
      </div>
    </div>
  );
}

import type { PrinterDriver, PrintLook, PrintOrder } from './driver.ts';

/** Before the first layer, seconds. */
const HEATING = 120;

/** What is kept of a simulated print. */
export interface SimulatedPrint extends PrintOrder {
  /** seconds of work that were done before `since` */
  readonly worked: number;
  /** it works since then; null: paused or ended */
  readonly since: number | null;
  readonly stopped: { readonly at: number } | null;
}

const workedBy = ({ worked, since, pace }: SimulatedPrint, now: number): number =>
  // a clock that was set back does not undo what is printed
  worked + (since === null ? 0 : (Math.max(0, now - since) / 1000) * pace);

/** Of the whole work, heating included, at which it ends. */
const endOf = ({ seconds, failAt }: SimulatedPrint): number => HEATING + seconds * (failAt ?? 1);

const shareOf = ({ seconds }: SimulatedPrint, worked: number): number =>
  Math.min(1, Math.max(0, worked - HEATING) / seconds);

function look(kept: SimulatedPrint, now: number): PrintLook {
  const { seconds, failAt, since, pace, worked, stopped } = kept;
  const end = endOf(kept);
  const done = Math.min(end, workedBy(kept, now));
  const share = shareOf(kept, done);
  const secondsLeft = Math.max(0, (HEATING + seconds - done) / pace);
  if (stopped) return { state: 'stopped', share, secondsLeft: 0, endedAt: stopped.at };
  if (done >= end - 1e-6 && (since !== null || worked >= end - 1e-6)) {
    const endedAt = since === null ? now : since + ((end - worked) / pace) * 1000;
    return { state: failAt === undefined ? 'done' : 'failed', share, secondsLeft: 0, endedAt };
  }
  if (since === null) return { state: 'paused', share, secondsLeft, endedAt: null };
  return { state: done < HEATING ? 'heating' : 'printing', share, secondsLeft, endedAt: null };
}

const ended = (kept: SimulatedPrint, now: number): boolean => look(kept, now).endedAt !== null;

/** A printer that is none: it heats, prints in its time or so many times as fast, and fails where it is told to. */
export const simulated: PrinterDriver<SimulatedPrint> = {
  begin: (order, now) => ({ ...order, worked: 0, since: now, stopped: null }),
  recall: (order, { state, share, at }) => {
    const kept = { ...order, worked: 0, since: null, stopped: null };
    return state === 'stopped'
      ? { ...kept, worked: HEATING + share * order.seconds, stopped: { at } }
      : { ...kept, since: at - (endOf(kept) / order.pace) * 1000 };
  },
  look,
  pause: (kept, now) =>
    ended(kept, now) || kept.since === null ? kept : { ...kept, worked: workedBy(kept, now), since: null },
  resume: (kept, now) => (ended(kept, now) || kept.since !== null ? kept : { ...kept, since: now }),
  stop: (kept, now) =>
    ended(kept, now) ? kept : { ...kept, worked: workedBy(kept, now), since: null, stopped: { at: now } },
};

import type { PRINT_STATES } from '@gephyra/contract';

/** What a printer is told of a bed. */
export interface PrintOrder {
  readonly seconds: number;
  readonly layers: number;
  readonly pace: number;
  readonly failAt?: number | undefined;
}

/** How far it is. */
export interface PrintLook {
  readonly state: (typeof PRINT_STATES)[number];
  /** of the printing, 0 … 1 */
  readonly share: number;
  readonly secondsLeft: number;
  /** ms since 1970; null while it goes on */
  readonly endedAt: number | null;
}

/**
 * A kind of printer. What it keeps of a print is plain data, which is stored after every step and is all it is given when it is
 * asked again, also after the server was started anew; times are ms since 1970. A printer of another kind (a real one would
 * keep its address and the number of its print, and ask it) is another object of this shape.
 */
export interface PrinterDriver<Kept> {
  begin(order: PrintOrder, now: number): Kept;
  /** what is kept of a print that ended in another workshop */
  recall(
    order: PrintOrder,
    ended: { readonly state: PrintLook['state']; readonly share: number; readonly at: number },
  ): Kept;
  look(kept: Kept, now: number): PrintLook;
  /** each gives what is kept from then on; on a print that has ended they change nothing */
  pause(kept: Kept, now: number): Kept;
  resume(kept: Kept, now: number): Kept;
  stop(kept: Kept, now: number): Kept;
}

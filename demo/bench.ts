import { type LogEntryInput, type Plan, parsePlan } from '@gephyra/core';

/** A time of the month in which the props were made. */
const at = (day: number, hour: number): string =>
  `2026-11-${String(day).padStart(2, '0')}T${String(hour).padStart(2, '0')}:20:00.000Z`;

const withLog = (plan: Plan, log: readonly LogEntryInput[]): Plan => parsePlan({ ...plan, log });

const copiesOn = (plan: Plan) =>
  plan.beds.map((b) => ({ bed: b.id, pieces: b.pieces.map(({ piece, copy }) => ({ piece, copy })) }));

/** Printed bed by bed, joined, filled, sanded, painted: all done. */
export function doneOnBench(plan: Plan): Plan {
  const beds = copiesOn(plan);
  const pieces = beds.flatMap((b) => b.pieces);
  return withLog(plan, [
    ...beds.flatMap(({ bed, pieces: own }, i): LogEntryInput[] => [
      { at: at(6 + i, 8), pieces: own, to: 'printing', bed },
      { at: at(6 + i, 19), pieces: own, to: 'printed', bed },
    ]),
    ...(
      [
        ['cleaned', 9, 10],
        ['fitted', 9, 14],
        ['joined', 10, 11],
        ['filled', 11, 9],
        ['sanded', 12, 16],
        ['primed', 13, 10],
        ['painted', 14, 15],
        ['done', 15, 9],
      ] as const
    ).map(([to, day, hour]): LogEntryInput => ({ at: at(day, hour), pieces, to, who: 'Wren' })),
  ]);
}

/** Half built: the first beds printed, two pieces cleaned, one that failed and waits to be printed again. */
export function halfOnBench(plan: Plan): Plan {
  const [first, second, third] = copiesOn(plan);
  const log: LogEntryInput[] = [
    { at: at(20, 8), pieces: first.pieces, to: 'printing', bed: first.bed },
    { at: at(20, 21), pieces: first.pieces, to: 'printed', bed: first.bed, who: 'Wren' },
    { at: at(21, 9), pieces: first.pieces, to: 'cleaned', who: 'Wren' },
  ];
  if (second) {
    const lost = second.pieces.slice(0, 1);
    const kept = second.pieces.slice(1);
    log.push({ at: at(21, 10), pieces: second.pieces, to: 'printing', bed: second.bed });
    log.push({
      at: at(22, 3),
      pieces: lost,
      to: 'toPrint',
      failed: { height: 61, why: 'came off the bed' },
      who: 'Osk',
    });
    if (kept.length > 0) log.push({ at: at(22, 8), pieces: kept, to: 'printed', bed: second.bed, who: 'Osk' });
  }
  if (third) log.push({ at: at(22, 9), pieces: third.pieces, to: 'printing', bed: third.bed });
  return withLog(plan, log);
}

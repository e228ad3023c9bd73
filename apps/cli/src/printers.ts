import { GephyraError, type Plan, parsePlan } from '@gephyra/core';

/** The plan with the printers that were asked for, the first as its main one. */
export function withPrinters(plan: Plan | null, asked: string | undefined): Plan {
  if (asked === undefined) {
    if (plan) return plan;
    throw new GephyraError(
      'usage',
      'Say which printer: --printer 220x220x250, several with commas: 220x220x250,300x300x300.',
    );
  }
  const [printer, ...printers] = asked.split(',').map((text, i) => {
    const size = text.split(/[x×]/).map(Number);
    if (size.length !== 3 || !size.every((x) => Number.isFinite(x) && x > 0)) {
      throw new GephyraError('usage', '--printer is three lengths in mm: 220x220x250, several with commas between.');
    }
    return { name: i === 0 ? 'Own printer' : `Own printer ${i + 1}`, size };
  });
  return parsePlan({ ...(plan ?? { version: 5 }), printer, printers });
}

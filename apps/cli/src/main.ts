import process from 'node:process';
import { GephyraError } from '@gephyra/core';
import { parseArguments } from './arguments.ts';
import { convert } from './convert.ts';
import { coupon } from './coupon.ts';
import { grid } from './grid.ts';
import { inspect } from './inspect.ts';
import { planCheck } from './plan-check.ts';
import { repair } from './repair.ts';
import { run } from './run.ts';
import { seat } from './seat.ts';

const USAGE = `gephyra: splits models into pieces that fit the printer

  gephyra inspect FILE [--json]
      what a model file holds, and what is wrong with it
  gephyra repair FILE --out FILE [--tolerance MM] [--close-openings] [--json]
      mends what can be mended; says what it did and what is left
  gephyra convert FILE --out FILE [--json]
      writes a model as STL, OBJ, PLY or 3MF, by the name's ending
  gephyra run PLAN.json --model FILE --out DIR [--format stl|ply|obj|3mf] [--json] [--allow-findings]
      computes the pieces of a plan and writes them
  gephyra grid FILE --printer 220x220x250 [--margin MM] [--joint-room MM] --out PLAN.json [--json]
      a plan of as few seams as will do, after which every piece fits
  gephyra seat PLAN.json --model FILE --out PLAN2.json [--json]
      seats joints on every mating face that has none
  gephyra coupon --kind KIND [--diameter MM] [--depth MM] [--from MM --step MM --count N] --out FILE [--json]
      a test piece with a ladder of gaps, for pin, key, cone, dowel, snap, magnet or lap
  gephyra plan --check PLAN.json [--json]
      names what is wrong in a plan

Exit: 0 done, 1 bad usage or input, 2 there are stop findings.`;

async function main(list: readonly string[]): Promise<number> {
  const [command, ...rest] = list;
  switch (command) {
    case 'inspect':
      return inspect(parseArguments(rest, ['json']));
    case 'repair':
      return repair(parseArguments(rest, ['json', 'out', 'tolerance', 'close-openings']));
    case 'convert':
      return convert(parseArguments(rest, ['json', 'out']));
    case 'run':
      return run(parseArguments(rest, ['json', 'model', 'out', 'format', 'allow-findings']));
    case 'grid':
      return grid(parseArguments(rest, ['json', 'out', 'printer', 'margin', 'joint-room']));
    case 'seat':
      return seat(parseArguments(rest, ['json', 'model', 'out']));
    case 'coupon':
      return coupon(parseArguments(rest, ['json', 'kind', 'diameter', 'depth', 'from', 'step', 'count', 'out']));
    case 'plan':
      return planCheck(parseArguments(rest, ['json', 'check']));
    case undefined:
    case 'help':
    case '--help':
      console.log(USAGE);
      return command === undefined ? 1 : 0;
    default:
      throw new GephyraError('usage', `There is no command “${command}”; “gephyra help” lists them.`);
  }
}

// whoever reads may have had enough, as “head” has
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code !== 'EPIPE') throw error;
  process.exit(process.exitCode ?? 0);
});

main(process.argv.slice(2)).then(
  (code) => {
    process.exitCode = code;
  },
  (error: unknown) => {
    const known = error instanceof GephyraError;
    console.error(known ? error.message.replace(/\s+/g, ' ') : `Unexpected: ${String(error)}`);
    process.exitCode = 1;
  },
);

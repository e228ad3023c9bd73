import { GephyraError } from '@gephyra/core';
import { parseArguments } from './arguments.ts';
import { beds } from './beds.ts';
import { convert } from './convert.ts';
import { coupon } from './coupon.ts';
import { grid } from './grid.ts';
import { inspect } from './inspect.ts';
import { order } from './order.ts';
import { planCheck } from './plan-check.ts';
import { pose } from './pose.ts';
import { prepare } from './prepare.ts';
import { propose } from './propose.ts';
import { repair } from './repair.ts';
import { run } from './run.ts';
import { seat } from './seat.ts';
import { sheet } from './sheet.ts';

const USAGE = `gephyra: splits models into pieces that fit the printer

  gephyra inspect FILE [--json]
      what a model file holds, and what is wrong with it
  gephyra repair FILE --out FILE [--tolerance MM] [--close-openings] [--json]
      mends what can be mended; says what it did and what is left
  gephyra convert FILE --out FILE [--json]
      writes a model as STL, OBJ, PLY or 3MF, by the name's ending
  gephyra run PLAN.json --model FILE --out DIR [--format stl|ply|obj|3mf] [--as place|print] [--json]
              [--allow-findings]
      computes the pieces of a plan and writes them, in their assembled places or each as it lies on the bed
  gephyra grid FILE --printer 220x220x250 [--margin MM] [--joint-room MM] --out PLAN.json [--json]
      a plan of as few seams as will do, after which every piece fits
  gephyra propose FILE|PLAN.json [--model FILE] --printer 220x220x250[,300x300x300] [--wish few|hidden|print]
              [--symmetric] [--turned] [--longest MM] [--whole BODY,BODY] [--joint-room MM] [--effort N] [--seed N]
              --out PLAN.json [--json]
      seams found by search, after which every piece fits (turned in any way, with --turned), the same on both
      sides of a mirror plane; says why each is where it is
  gephyra prepare FILE --printer 220x220x250[,300x300x300] --out DIR [--json]
      mends, proposes seams, seats joints, poses and fills beds; writes plan, pieces, beds and a report
  gephyra seat PLAN.json --model FILE --out PLAN2.json [--json]
      seats joints on every mating face that has none
  gephyra pose PLAN.json --model FILE [--wish support|fast|strong|show] --out PLAN2.json [--json]
      the best way for every piece to lie on the bed, with hours, grams and support
  gephyra beds PLAN.json --model FILE --out DIR [--format 3mf|stl] [--json]
      fills beds with the pieces as they lie, and writes a file for each
  gephyra order PLAN.json --model FILE [--out PLAN2.json] [--json]
      how the pieces are joined, step by step, each way checked; an order is found where the plan has none
  gephyra sheet PLAN.json --model FILE [--paper a4|letter] --out FILE.pdf [--json]
      the assembly sheet: pieces, what to buy and cut, a panel for each step of joining
  gephyra coupon --kind KIND [--diameter MM] [--depth MM] [--from MM --step MM --count N] --out FILE [--json]
      a test piece with a ladder of gaps, for pin, key, cone, dowel, snap, magnet or lap
  gephyra plan --check PLAN.json [--json]
      names what is wrong in a plan

  --limit SECONDS, with any of them: how long it may take (600 without it). Searches then end with what they have found;
  what cannot is broken off with an error.

Exit: 0 done, 1 bad usage or input, 2 there are stop findings.`;

/**
 * Does what a line of arguments asks for; what it has to say goes to the console. Gives the exit code, also for a line that is
 * refused.
 */
export async function command(list: readonly string[]): Promise<number> {
  try {
    return await dispatch(list);
  } catch (error) {
    const known = error instanceof GephyraError;
    console.error(known ? error.message.replace(/\s+/g, ' ') : `Unexpected: ${String(error)}`);
    return 1;
  }
}

async function dispatch(list: readonly string[]): Promise<number> {
  const [name, ...rest] = list;
  switch (name) {
    case 'inspect':
      return inspect(parseArguments(rest, ['json']));
    case 'repair':
      return repair(parseArguments(rest, ['json', 'out', 'tolerance', 'close-openings']));
    case 'convert':
      return convert(parseArguments(rest, ['json', 'out']));
    case 'run':
      return run(parseArguments(rest, ['json', 'model', 'out', 'format', 'as', 'allow-findings']));
    case 'grid':
      return grid(parseArguments(rest, ['json', 'out', 'printer', 'margin', 'joint-room']));
    case 'propose':
      return propose(
        parseArguments(rest, [
          'json',
          'model',
          'out',
          'printer',
          'wish',
          'symmetric',
          'turned',
          'longest',
          'whole',
          'joint-room',
          'effort',
          'seed',
        ]),
      );
    case 'prepare':
      return prepare(parseArguments(rest, ['json', 'out', 'printer']));
    case 'seat':
      return seat(parseArguments(rest, ['json', 'model', 'out']));
    case 'order':
      return order(parseArguments(rest, ['json', 'model', 'out']));
    case 'sheet':
      return sheet(parseArguments(rest, ['json', 'model', 'out', 'paper']));
    case 'pose':
      return pose(parseArguments(rest, ['json', 'model', 'out', 'wish']));
    case 'beds':
      return beds(parseArguments(rest, ['json', 'model', 'out', 'format']));
    case 'coupon':
      return coupon(parseArguments(rest, ['json', 'kind', 'diameter', 'depth', 'from', 'step', 'count', 'out']));
    case 'plan':
      return planCheck(parseArguments(rest, ['json', 'check']));
    case undefined:
    case 'help':
    case '--help':
      console.log(USAGE);
      return name === undefined ? 1 : 0;
    default:
      throw new GephyraError('usage', `There is no command “${name}”; “gephyra help” lists them.`);
  }
}

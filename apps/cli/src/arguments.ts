import { readFile } from 'node:fs/promises';
import { GephyraError } from '@gephyra/core';

/** Flags that stand alone; all others take a value. */
const SWITCHES = new Set(['json', 'allow-findings', 'help', 'close-openings', 'symmetric', 'turned']);

export interface Arguments {
  readonly words: readonly string[];
  readonly flags: ReadonlyMap<string, string>;
}

/** Splits a command line into words and flags; all commands know --limit. Throws GephyraError `usage` for a flag without its value. */
export function parseArguments(list: readonly string[], known: readonly string[]): Arguments {
  const words: string[] = [];
  const flags = new Map<string, string>();
  for (let i = 0; i < list.length; i++) {
    if (!list[i].startsWith('--')) {
      words.push(list[i]);
      continue;
    }
    const flag = list[i].slice(2);
    if (flag !== 'limit' && !known.includes(flag)) throw new GephyraError('usage', `There is no option --${flag}.`);
    if (SWITCHES.has(flag)) flags.set(flag, '');
    else if (i + 1 < list.length) flags.set(flag, list[++i]);
    else throw new GephyraError('usage', `--${flag} needs a value.`);
  }
  if (!(numberOf(flags, 'limit', 1) > 0)) throw new GephyraError('usage', '--limit is a number of seconds over 0.');
  return { words, flags };
}

/** Reads a file, or says in one line that it cannot be read. */
export async function readInput(path: string): Promise<Uint8Array> {
  try {
    return await readFile(path);
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code;
    throw new GephyraError('input', `${path} cannot be read${code === 'ENOENT' ? ': there is no such file' : ''}.`);
  }
}

/** A number from 0 that an option gives. */
export function numberOf(flags: ReadonlyMap<string, string>, name: string, preset: number): number {
  const x = Number(flags.get(name) ?? preset);
  if (!Number.isFinite(x) || x < 0) throw new GephyraError('usage', `--${name} is a number from 0.`);
  return x;
}

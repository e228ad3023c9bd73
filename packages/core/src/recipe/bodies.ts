import type { Body } from '../body/index.ts';
import { GephyraError } from '../errors.ts';
/** The bodies with these ids. Throws GephyraError `recipe.body` for one that is gone. */
export function bodiesNamed(ids: readonly string[], bodies: readonly Body[]): Body[] {
  return ids.map((id) => {
    const body = bodies.find((b) => b.id === id);
    if (!body) {
      throw new GephyraError(
        'recipe.body',
        `A step of the recipe names body ${id}, which is not there. Change or delete it.`,
        {
          body: id,
        },
      );
    }
    return body;
  });
}

/** How far two surfaces lie apart, mm, sampled. Together they are the two-sided distance. */
export interface Deviation {
  /** of the old surface, the farthest from the new one */
  readonly old: number;
  /** of the new surface, the farthest from the old one: patches over holes count here */
  readonly added: number;
}

/** `wanted`, or with a number behind it when a body has that id already. */
export function freeBodyId(wanted: string, bodies: readonly Pick<Body, 'id'>[]): string {
  const used = new Set(bodies.map((b) => b.id));
  if (!used.has(wanted)) return wanted;
  for (let n = 2; ; n++) if (!used.has(`${wanted}${n}`)) return `${wanted}${n}`;
}

import type { Finding } from '../document/index.ts';
import { type Body, isClosed } from '../repair/index.ts';
import type { EvalCache, SizedBody } from '../seams/index.ts';

/** What is to be said of each body by itself. */
export const bodyFindings = (bodies: readonly Body[]): Finding[] => [
  ...bodies.filter((b) => !isClosed(b)).map(openBody),
  ...bodies.flatMap(crossedBody),
];

/** Bodies that reach into each other. */
export function overlaps(bodies: readonly SizedBody[], cache: EvalCache): Finding[] {
  const findings: Finding[] = [];
  for (let i = 0; i < bodies.length; i++) {
    for (let j = i + 1; j < bodies.length; j++) {
      const [a, b] = [bodies[i], bodies[j]];
      if (!isClosed(a.body) || !isClosed(b.body) || !cache.overlap(a.mesh, b.mesh)) continue;
      findings.push({
        code: 'bodies.overlap',
        severity: 'stop',
        where: { body: b.body.id },
        message: `${a.body.name} and ${b.body.name} overlap, so their pieces cannot be put together.`,
        mend: {
          label: 'Join the two into one solid',
          change: { do: 'addStep', step: { kind: 'join', on: [a.body.id, b.body.id] } },
        },
      });
    }
  }
  return findings;
}

function openBody(body: Body): Finding {
  const t = body.topology;
  const what = [
    t.openEdges > 0 ? `${t.openEdges} open edges` : '',
    t.nonManifoldEdges > 0 ? `${t.nonManifoldEdges} edges with more than two triangles` : '',
    body.refused === undefined ? '' : `the solid kernel refuses it: ${body.refused}`,
    body.loose > 0 ? `${body.loose} loose shells` : '',
    t.inconsistentEdges > 0 ? `${t.inconsistentEdges} edges whose triangles face different ways` : '',
  ].filter(Boolean);
  return {
    code: 'body.open',
    severity: 'stop',
    where: { body: body.id },
    message: `${body.name} is not closed (${what.join(', ')}), so it cannot be cut or printed as a solid. It is kept whole.`,
    value: t.openEdges,
    limit: 0,
    mend: { label: `Mend ${body.name}`, change: { do: 'addStep', step: { kind: 'mend', on: [body.id] } } },
  };
}

function crossedBody(body: Body): Finding[] {
  const count = body.crossed?.count ?? 0;
  if (count === 0) return [];
  return [
    {
      code: 'body.crossed',
      severity: 'warn',
      where: { body: body.id },
      message: `${body.name} passes through itself at ${count} ${count === 1 ? 'place' : 'places'}, so volumes and walls there are not what they seem. Mend it where it was made, or give it a new surface (Model, a wall).`,
      value: count,
      limit: 0,
    },
  ];
}

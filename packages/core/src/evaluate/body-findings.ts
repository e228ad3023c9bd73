import { type Body, isClosed } from '../body/index.ts';
import {
  alternateBodies,
  type Finding,
  freeId,
  type Mend,
  type Plan,
  withAlternate,
  withoutAlternate,
} from '../document/index.ts';
import type { MatingFace, PartingCache, SizedBody } from '../seams/index.ts';

/** What is to be said of each body by itself. */
export const bodyFindings = (bodies: readonly Body[]): Finding[] => [
  ...bodies.filter((b) => !isClosed(b)).map(openBody),
  ...bodies.flatMap(crossedBody),
];

/** Bodies that reach into each other and are no alternates. */
export function overlaps(plan: Plan, bodies: readonly SizedBody[], cache: PartingCache): Finding[] {
  const findings: Finding[] = [];
  const alternates = alternateBodies(
    plan.alternates,
    bodies.map((b) => b.body.id),
  );
  for (let i = 0; i < bodies.length; i++) {
    for (let j = i + 1; j < bodies.length; j++) {
      const [a, b] = [bodies[i], bodies[j]];
      const set = alternates.get(a.body.id)?.set;
      if (set && set === alternates.get(b.body.id)?.set) continue;
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
        mends: [
          {
            label: 'Put on one or the other',
            change: {
              do: 'set',
              set: {
                alternates: withAlternate(plan.alternates, a.body.id, b.body.id, freeId('n', plan.alternates)),
              },
            },
          },
        ],
      });
    }
  }
  return findings;
}

/** Alternates that do not touch what their lead touches, so that its joints are not theirs. */
export function alternatesAstray(plan: Plan, faces: readonly MatingFace[], bodies: readonly SizedBody[]): Finding[] {
  const there = bodies.map((b) => b.body.id);
  const nameOf = (id: string): string => bodies.find((b) => b.body.id === id)?.body.name ?? id;
  return [...alternateBodies(plan.alternates, there)].flatMap(([body, { lead }]): Finding[] => {
    if (body === lead || !faces.some((f) => f.contact && f.bodies.includes(lead))) return [];
    if (faces.some((f) => f.alternate === body)) return [];
    return [
      {
        code: 'alternate.face',
        severity: 'warn',
        where: { body },
        message: `${nameOf(body)} does not sit where ${nameOf(lead)} sits, so it gets none of its joints. Lay its flat face on the same one, or take it out of the alternates.`,
        mend: {
          label: 'Take it out',
          change: { do: 'set', set: { alternates: withoutAlternate(plan.alternates, body) } },
        },
      },
    ];
  });
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

/** Makes a body the surface of what it encloses. */
export const resolving = (body: string): Mend => ({
  label: 'Resolve what passes through itself',
  change: { do: 'addStep', step: { kind: 'untangle', on: [body] } },
});

function crossedBody(body: Body): Finding[] {
  const count = body.crossed?.count ?? 0;
  if (count === 0) return [];
  return [
    {
      code: 'body.crossed',
      severity: 'warn',
      where: { body: body.id },
      message: `${body.name} passes through itself at ${count} ${count === 1 ? 'place' : 'places'}, so volumes and walls there are not what they seem.`,
      value: count,
      limit: 0,
      mend: resolving(body.id),
    },
  ];
}

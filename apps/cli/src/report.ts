import {
  area,
  type Body,
  bounds,
  concatenate,
  type DefectKind,
  diagnose,
  type Health,
  isClosed,
  modelBox,
  overlapping,
  shells,
  sizeOf,
  topology,
  volume,
} from '@gephyra/core';

/** What a model holds and what is wrong with it, in plain numbers. */
export interface Report {
  readonly triangles: number;
  readonly vertices: number;
  readonly size: readonly number[];
  readonly volume: number;
  readonly area: number;
  readonly shells: number;
  readonly watertight: boolean;
  readonly openEdges: number;
  readonly nonManifoldEdges: number;
  readonly inconsistentEdges: number;
  readonly nonManifoldVertices: number;
  readonly holes: readonly { body: string; perimeter: number; opening: boolean; at: readonly number[] }[];
  readonly duplicateTriangles: number;
  readonly degenerateTriangles: number;
  readonly selfCrossings: number;
  readonly flipped: number;
  readonly dust: number;
  readonly overlaps: readonly (readonly [string, string])[];
  readonly bodies: readonly {
    id: string;
    name: string;
    triangles: number;
    size: readonly number[];
    volume: number;
    closed: boolean;
    shells: number;
    cavities: number;
  }[];
}

/** Examines bodies. `degenerate` and `flipped` count what importing has already dropped and turned. */
export function reportOf(bodies: readonly Body[], imported: { degenerate: number; flipped: number }): Report {
  const whole = concatenate(bodies.map((b) => b.mesh));
  const modelSize = Math.hypot(...sizeOf(modelBox(bodies)));
  const health = bodies.map((b) => diagnose(b, { crossing: true, modelSize }));
  const t = topology(whole);
  const count = (kind: DefectKind): number =>
    health.reduce((n, h) => n + (h.defects.find((d) => d.kind === kind)?.count ?? 0), 0);
  const solid = bodies.filter(isClosed);
  return {
    triangles: whole.tags.length,
    vertices: whole.positions.length / 3,
    size: sizeOf(bounds(whole.positions)),
    volume: volume(whole),
    area: area(whole),
    shells: shells(whole).count,
    watertight: t.watertight && bodies.every((b) => b.refused === undefined),
    openEdges: t.openEdges,
    nonManifoldEdges: t.nonManifoldEdges,
    inconsistentEdges: t.inconsistentEdges,
    nonManifoldVertices: count('nonManifoldVertices'),
    holes: health.flatMap(holesOf),
    duplicateTriangles: count('duplicates'),
    degenerateTriangles: count('degenerate') + imported.degenerate,
    selfCrossings: count('selfCrossings'),
    flipped: imported.flipped + count('inverted'),
    dust: count('dust'),
    overlaps: solid.flatMap((a, i) =>
      solid.slice(i + 1).flatMap((b) => (overlapping(a.mesh, b.mesh) ? [[a.id, b.id] as const] : [])),
    ),
    bodies: bodies.map((b, i) => ({
      id: b.id,
      name: b.name,
      triangles: b.mesh.tags.length,
      size: sizeOf(bounds(b.mesh.positions)),
      volume: b.volume,
      closed: isClosed(b),
      shells: health[i].shells,
      cavities: health[i].cavities,
    })),
  };
}

const holesOf = (health: Health): Report['holes'][number][] =>
  health.defects
    .filter((d) => d.kind === 'holes' || d.kind === 'openings')
    .flatMap((d) =>
      d.places.map((p) => ({ body: health.body, perimeter: p.value ?? 0, opening: d.kind === 'openings', at: p.at })),
    );

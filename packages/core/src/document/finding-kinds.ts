import type { FaultCode } from '../joints/kinds/index.ts';

/** Where in the application something is decided, and mended. */
export type StationId = 'model' | 'seams' | 'joints' | 'pieces';

/** What is known of a finding by its code alone. */
export interface FindingKind {
  /** where it is mended */
  readonly station: StationId;
  /** where else it is listed */
  readonly also?: readonly StationId[];
  /** when it is found, for the documentation */
  readonly when: string;
}

/** All findings that there are. A new one is a line here, and the check that makes it. */
export const FINDINGS = {
  'body.open': { station: 'model', when: 'a body is not closed, so it is not cut' },
  'body.crossed': { station: 'model', when: 'a body passes through itself' },
  'body.pieces': { station: 'model', when: 'the seams would part a body into more pieces than are computed' },
  'bodies.overlap': { station: 'model', when: 'two bodies reach into each other' },
  'seam.scope': { station: 'seams', when: 'a seam is meant for pieces that are gone' },
  'seam.region': { station: 'seams', when: 'a chosen region of a seam is gone' },
  'seam.partsNothing': { station: 'seams', when: 'both sides of a region belong to one piece' },
  'seam.refused': { station: 'seams', when: 'a seam cannot be cut' },
  'seam.misses': { station: 'seams', when: 'a seam cuts nothing' },
  'seam.bent': { station: 'seams', when: 'the faces of a seam are bent and carry no joints' },
  'seam.film': { station: 'seams', when: 'a seam lies flush with faces on both of its sides' },
  'seam.zone': { station: 'seams', when: 'a seam runs through a zone that is to be kept clear' },
  'seam.coincident': { station: 'seams', when: 'two seams nearly lie in one plane' },
  'face.bare': { station: 'joints', when: 'a mating face has no joint' },
  'face.small': { station: 'joints', also: ['seams'], when: 'a mating face has no room for a joint' },
  'joint.offFace': { station: 'joints', when: 'a joint lies on no mating face' },
  'joint.overlap': { station: 'joints', when: 'several shells overlap where a socket goes' },
  'joint.lean': { station: 'joints', when: 'a joint leans farther than can be built' },
  'joint.lap': { station: 'joints', when: 'a lap finds no way along its wall' },
  'joint.edge': { station: 'joints', when: 'a joint is too near the edge of its face' },
  'joint.wall': { station: 'joints', when: 'the wall round a socket cannot be printed' },
  'joint.thin': { station: 'joints', when: 'the wall round a socket is weak' },
  'joint.through': { station: 'joints', when: 'a socket comes out through its piece' },
  'joint.root': { station: 'joints', when: 'there is little material under the foot of a joint' },
  'joint.near': { station: 'joints', when: 'two joints are too near each other' },
  'joint.slim': { station: 'joints', when: 'a joint is too slim to print' },
  'joint.weak': { station: 'joints', when: 'layers lie across a pin, so that it shears easily' },
  'joint.roof': { station: 'joints', when: 'a roof inside a socket hangs free while it prints' },
  'joint.way': { station: 'joints', when: 'pieces cannot be slid together along all their joints' },
  'joint.turns': { station: 'joints', when: 'two pieces can turn about their only joint' },
  'joint.stock': { station: 'joints', when: 'a rod is longer than a stick of its stock' },
  'joint.cover': { station: 'joints', when: 'too little covers a magnet' },
  'joint.poles': { station: 'joints', when: 'two magnets push each other away' },
  'joint.holds': { station: 'joints', when: 'a barb is no wider than its gap' },
  'joint.slot': { station: 'joints', when: 'prongs have no room to bend' },
  'joint.strain': { station: 'joints', when: 'prongs are strained more than they bear' },
  'piece.tooBig': { station: 'seams', when: 'a piece does not fit the printer' },
  'piece.sliver': { station: 'seams', when: 'a piece is thinner than two lines of print' },
  'piece.open': { station: 'seams', when: 'the surface of a piece is not closed' },
  'piece.crossed': { station: 'seams', when: 'the surface of a piece passes through itself' },
} as const satisfies Record<string, FindingKind> & Record<FaultCode, FindingKind>;

export type FindingCode = keyof typeof FINDINGS;

/** Where a finding is mended. */
export const stationOf = ({ code }: { readonly code: FindingCode }): StationId => FINDINGS[code].station;

/** Whether a station lists a finding: it is mended there, or it matters there too. */
export function isListedAt(station: StationId, { code }: { readonly code: FindingCode }): boolean {
  const kind: FindingKind = FINDINGS[code];
  return kind.station === station || (kind.also?.includes(station) ?? false);
}

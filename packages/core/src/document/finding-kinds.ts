import type { FaultCode } from '../joints/kinds/index.ts';

/** Where in the application something is decided, and mended. */
export type StationId = 'model' | 'seams' | 'joints' | 'pieces' | 'beds' | 'assembly' | 'workshop';

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
  'alternate.face': {
    station: 'model',
    when: 'an alternate does not sit where the body sits that it takes the place of',
  },
  'bodies.overlap': { station: 'model', when: 'two bodies reach into each other' },
  'seam.scope': { station: 'seams', when: 'a seam is meant for pieces that are gone' },
  'seam.region': { station: 'seams', when: 'a chosen region of a seam is gone' },
  'seam.partsNothing': { station: 'seams', when: 'both sides of a region belong to one piece' },
  'seam.refused': { station: 'seams', when: 'a seam cannot be cut' },
  'seam.misses': { station: 'seams', when: 'a seam cuts nothing' },
  'seam.bent': { station: 'seams', when: 'the faces of a seam are bent, without a flat for joints' },
  'seam.edge': {
    station: 'seams',
    when: 'a groove, channel or relief along a seam leaves little of its faces, or cannot be carved',
  },
  'seam.flat': { station: 'seams', when: 'a flat cannot be worked into a bent seam' },
  'seam.film': { station: 'seams', when: 'a seam lies flush with faces on both of its sides' },
  'seam.zone': { station: 'seams', when: 'a seam runs through a zone that is to be kept clear' },
  'seam.show': { station: 'seams', when: 'a seam runs over faces that are to be seen' },
  'show.lost': { station: 'model', when: 'a show face was marked where nothing is any more' },
  'seam.coincident': { station: 'seams', when: 'two seams nearly lie in one plane' },
  'face.bare': { station: 'joints', when: 'a mating face has no joint' },
  'face.small': { station: 'joints', also: ['seams'], when: 'a mating face has no room for a joint' },
  'seam.backing': { station: 'seams', when: 'no backing strip finds room at a face' },
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
  'joint.way': { station: 'joints', also: ['assembly'], when: 'pieces cannot be slid together along all their joints' },
  'joint.turns': { station: 'joints', when: 'two pieces can turn about their only joint' },
  'joint.stock': { station: 'joints', when: 'a rod is longer than a stick of its stock' },
  'joint.cover': { station: 'joints', when: 'too little covers a magnet' },
  'joint.poles': { station: 'joints', when: 'two magnets push each other away' },
  'joint.holds': { station: 'joints', when: 'a barb is no wider than its gap' },
  'joint.slot': { station: 'joints', when: 'prongs have no room to bend' },
  'joint.strain': { station: 'joints', when: 'prongs are strained more than they bear' },
  'joint.thread': { station: 'joints', when: 'a screw ends before it holds' },
  'joint.grip': { station: 'joints', when: 'little lies under the head of a screw' },
  'joint.head': { station: 'joints', when: 'the head of a screw has no place, or a driver cannot get at it' },
  'joint.passing': {
    station: 'joints',
    when: 'what a joint makes of its piece passes through another part of it, as its file would hold it',
  },
  'joint.shaft': {
    station: 'joints',
    when: 'the hole of a screw, the room that a ball swings in or a hinge cannot be made of its piece',
  },
  'joint.swing': { station: 'joints', when: 'the neck of a ball meets its cup before it has swung as far as it shall' },
  'piece.tooBig': { station: 'seams', when: 'a piece does not fit the printer' },
  'piece.sliver': { station: 'seams', when: 'a piece is thinner than two lines of print' },
  'piece.open': { station: 'seams', when: 'the surface of a piece is not closed' },
  'piece.crossed': { station: 'seams', when: 'the surface of a piece passes through itself' },
  'label.room': { station: 'pieces', when: 'no mating face of a piece has room for its code' },
  'print.falls': { station: 'pieces', when: 'the middle of a piece’s mass is beside what it stands on' },
  'print.rest': { station: 'pieces', when: 'a piece hardly touches the bed' },
  'print.tips': { station: 'pieces', when: 'a tall piece stands on a narrow rest' },
  'print.locked': { station: 'pieces', when: 'support cannot be reached to be taken out' },
  'print.scars': { station: 'pieces', when: 'support stands on a show face' },
  'print.side': { station: 'pieces', when: 'pegs keep a piece from lying on a face where it needs less support' },
  'print.warps': { station: 'pieces', when: 'a rest is longer than its material bears' },
  'print.across': { station: 'pieces', when: 'layers lie across a piece’s pegs' },
  'bed.printer': { station: 'beds', when: 'a bed’s printer is no longer used' },
  'bed.piece': { station: 'beds', when: 'a bed holds a piece that is gone, or one twice' },
  'bed.outside': { station: 'beds', when: 'a piece reaches beyond what its printer can use' },
  'bed.overlap': { station: 'beds', when: 'pieces on a bed lie over each other' },
  'bed.hours': { station: 'beds', when: 'a bed takes longer than it may' },
  'order.blocked': { station: 'assembly', when: 'a step of joining is blocked on its way' },
  'order.overlap': { station: 'assembly', when: 'two pieces are in each other where they belong' },
  'stock.stopped': { station: 'assembly', when: 'something stands in the way of what runs through a bore' },
  'stock.shut': { station: 'assembly', when: 'what runs through a bore cannot be put in at any step of joining' },
  'order.gone': { station: 'assembly', when: 'the order of joining names pieces that are gone, or misses some' },
  'bench.changed': { station: 'workshop', when: 'a piece was changed after it was printed' },
  'bed.missing': { station: 'beds', when: 'a piece lies on no bed' },
} as const satisfies Record<string, FindingKind> & Record<FaultCode, FindingKind>;

export type FindingCode = keyof typeof FINDINGS;

/** Where a finding is mended. */
export const stationOf = ({ code }: { readonly code: FindingCode }): StationId => FINDINGS[code].station;

/** Whether a station lists a finding: it is mended there, or it matters there too. */
export function isListedAt(station: StationId, { code }: { readonly code: FindingCode }): boolean {
  const kind: FindingKind = FINDINGS[code];
  return kind.station === station || (kind.also?.includes(station) ?? false);
}

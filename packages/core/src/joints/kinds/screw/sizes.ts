/** A metric screw and what goes with it, mm. */
export interface ScrewSize {
  readonly size: 'M2' | 'M2.5' | 'M3' | 'M4' | 'M5' | 'M6';
  readonly thread: number;
  /** clearance hole, medium fit (ISO 273) */
  readonly clear: number;
  /** cylinder head (ISO 4762) */
  readonly head: number;
  readonly headHeight: number;
  /** hexagon nut (ISO 4032): across flats, and its height */
  readonly nut: number;
  readonly nutHeight: number;
  /** the bore and length of a common heat-set insert; its maker's sheet goes before these */
  readonly insert: number;
  readonly insertLength: number;
  /** the core that a screw cuts its own thread into plastic */
  readonly core: number;
}

export const SCREWS: readonly ScrewSize[] = [
  {
    size: 'M2',
    thread: 2,
    clear: 2.4,
    head: 3.8,
    headHeight: 2,
    nut: 4,
    nutHeight: 1.6,
    insert: 3.2,
    insertLength: 3,
    core: 1.6,
  },
  {
    size: 'M2.5',
    thread: 2.5,
    clear: 2.9,
    head: 4.5,
    headHeight: 2.5,
    nut: 5,
    nutHeight: 2,
    insert: 3.6,
    insertLength: 4,
    core: 2.1,
  },
  {
    size: 'M3',
    thread: 3,
    clear: 3.4,
    head: 5.5,
    headHeight: 3,
    nut: 5.5,
    nutHeight: 2.4,
    insert: 4,
    insertLength: 5.7,
    core: 2.5,
  },
  {
    size: 'M4',
    thread: 4,
    clear: 4.5,
    head: 7,
    headHeight: 4,
    nut: 7,
    nutHeight: 3.2,
    insert: 5.6,
    insertLength: 8.1,
    core: 3.4,
  },
  {
    size: 'M5',
    thread: 5,
    clear: 5.5,
    head: 8.5,
    headHeight: 5,
    nut: 8,
    nutHeight: 4.7,
    insert: 6.4,
    insertLength: 9.5,
    core: 4.3,
  },
  {
    size: 'M6',
    thread: 6,
    clear: 6.6,
    head: 10,
    headHeight: 6,
    nut: 10,
    nutHeight: 5.2,
    insert: 8,
    insertLength: 12.7,
    core: 5.1,
  },
];

/** Lengths that screws are sold in, mm. */
export const SCREW_LENGTHS = [
  4, 5, 6, 8, 10, 12, 14, 16, 18, 20, 25, 30, 35, 40, 45, 50, 55, 60, 70, 80, 90, 100,
] as const;

export const screwSize = (size: ScrewSize['size']): ScrewSize => SCREWS.find((s) => s.size === size)!;

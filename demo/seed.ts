import { randomUUID } from 'node:crypto';
import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { type EquipmentRecord, type Job, type Project, type ProjectCard, routes } from '@gephyra/contract';
import { loadKernel, loadSimplifier, type Plan, type PlanInput, writeModel, writeStlBinary } from '@gephyra/core';
import { zipSync } from 'fflate';
import { doneOnBench, halfOnBench } from './bench.ts';
import { herald } from './herald.ts';
import { anchor, anchorInOne, hoop, lantern, visor } from './models.ts';
import { prepared, proposed } from './prepare.ts';
import { HEAD_AT, NECK_AT, puppet, TAIL_AT } from './puppet.ts';

const polar = (radius: number, degrees: number): [number, number] => [
  Number((radius * Math.cos((degrees * Math.PI) / 180)).toFixed(3)),
  Number((radius * Math.sin((degrees * Math.PI) / 180)).toFixed(3)),
];

const desktop = { name: 'Desktop 220', size: [220, 220, 250] as [number, number, number], margin: 2 };

/** The lantern on its way: two seams, keys on one, pins on the other, one of them too near the edge. */
export const lanternPlan = {
  version: 5,
  printer: desktop,
  labels: { height: 10, depth: 0.4 },
  seams: [
    { id: 's1', name: 'Waist', kind: 'flat', origin: [0, 0, 200], normal: [0, 0, 1] },
    { id: 's2', name: 'Lamp floor', kind: 'flat', origin: [0, 0, 379.5], normal: [0, 0, 1] },
  ],
  joints: [
    { id: 'j1', kind: 'key', seam: 's1', at: [-40, 0], width: 16, height: 24, depth: 12, corner: 2 },
    { id: 'j2', kind: 'key', seam: 's1', at: [40, 0], width: 16, height: 24, depth: 12, corner: 2 },
    { id: 'j3', kind: 'pin', seam: 's2', at: polar(61, 0), diameter: 6, depth: 4, gap: 0.15, male: '-' },
    { id: 'j4', kind: 'pin', seam: 's2', at: polar(61, 135), diameter: 6, depth: 4, gap: 0.15, male: '-' },
    { id: 'j5', kind: 'pin', seam: 's2', at: polar(65.2, 245), diameter: 6, depth: 4, gap: 0.15, male: '-' },
  ],
} satisfies PlanInput;

/**
 * The anchor in one: its left fluke comes off at the arm, and nothing else is cut there. A steel rod runs up its shank, and the
 * seam under the stock has a groove to fill.
 */
export const flukePlan = {
  version: 5,
  printer: desktop,
  recipe: [
    {
      id: 'r1',
      kind: 'bore',
      points: [
        [0, 0, 15],
        [0, 0, 700],
      ],
      diameter: 8,
      blind: true,
      stock: 'steel rod',
    },
  ],
  seams: [
    {
      id: 's1',
      name: 'Left fluke',
      kind: 'flat',
      origin: [0, 0, 205],
      normal: [0, 0, 1],
      up: [0, 1, 0],
      regions: { mode: 'only', seeds: [[-262, 0]] },
    },
    {
      id: 's2',
      name: 'Under the stock',
      kind: 'flat',
      origin: [0, 0, 650],
      normal: [0, 0, 1],
      edge: { width: 1, depth: 1 },
    },
  ],
  zones: [{ id: 'z1', name: 'Ring lug', kind: 'sphere', at: [0, 0, 800], radius: 34 }],
} satisfies PlanInput;

/** The puppet: its neck swings on a ball, either of its heads is keyed onto it, and its tail bobs on a hinge. */
export const puppetPlan = {
  version: 5,
  printer: desktop,
  alternates: [{ id: 'n1', name: 'Head', bodies: ['b2', 'b3'] }],
  seams: [
    { id: 's1', name: 'Neck', kind: 'flat', origin: [0, 0, NECK_AT], normal: [0, 0, 1] },
    {
      id: 's2',
      name: 'Tail',
      kind: 'flat',
      origin: [...TAIL_AT],
      normal: [0, 52, -22],
      up: [0, 22, 52],
      regions: { mode: 'only', seeds: [[0, 0]] },
    },
  ],
  contacts: [{ id: 'c1', bodies: ['b1', 'b2'], origin: [0, 0, HEAD_AT], normal: [0, 0, 1] }],
  joints: [
    { id: 'j1', kind: 'ball', seam: 's1', at: [0, 0], diameter: 14, neck: 7, length: 4, male: '+' },
    { id: 'j2', kind: 'key', seam: 'c1', at: [0, 0], width: 16, height: 10, depth: 9, outline: 'd' },
    {
      id: 'j3',
      kind: 'hinge',
      seam: 's2',
      at: [0, 0],
      diameter: 6.5,
      length: 14,
      pin: 2,
      opens: 1,
      turn: Math.PI,
      male: '-',
    },
  ],
} satisfies PlanInput;

/** The hoop in six equal segments. */
export const hoopPlan = {
  version: 5,
  printer: { name: 'Desktop 300', size: [300, 300, 300], margin: 2, material: 'Tough PLA' },
  seams: [
    { id: 's1', name: 'Six segments', kind: 'fan', origin: [0, 0, 0], normal: [0, 0, 1], up: [0, 1, 0], count: 6 },
  ],
} satisfies PlanInput;

/** The equipment's printers, and what coupons said of one of them. */
const equipment = {
  printers: [
    {
      name: 'Desktop 220',
      size: [220, 220, 250],
      materials: [
        {
          name: 'PLA',
          fits: { all: { press: 0.05, snug: 0.12, slip: 0.22 }, cone: { snug: 0.08 } },
          results: [
            {
              date: '2026-10-04',
              kind: 'all',
              gaps: { press: 0.05, snug: 0.12, slip: 0.22 },
              note: 'Six rungs from 0.05; the outermost rattles',
            },
            { date: '2026-11-12', kind: 'cone', gaps: { snug: 0.08 }, note: 'For the heron visor' },
          ],
          prints: [
            { date: '2026-11-14', hours: 6.4, estimate: 5.9, note: 'Hoop, one segment' },
            { date: '2026-11-09', hours: 2.35, estimate: 2.2, note: 'Coupons' },
            { date: '2026-10-21', hours: 10.9, estimate: 9.8, note: 'Visor, brow' },
          ],
        },
        { name: 'PETG' },
      ],
    },
    { name: 'Desktop 300', size: [300, 300, 300], materials: [{ name: 'Tough PLA' }] },
    {
      name: 'Resin 145',
      size: [145, 90, 180],
      margin: 1,
      nozzle: 0.05,
      kind: 'resin',
      materials: [{ name: 'Tough resin' }],
    },
  ],
};

/** Brings the sample projects into a server, once: a mark in the data folder says that they are there. */
export async function seed(base: string, data: string): Promise<void> {
  const mark = join(data, 'demo.json');
  if (
    await readFile(mark).then(
      () => true,
      () => false,
    )
  )
    return;
  console.log('Making the props of Brackhythe, and laying their pieces on beds …');
  const kernel = await loadKernel();
  await loadSimplifier();
  const cards = (await call(base, routes.projects, 'GET')) as ProjectCard[];
  const onBeds = (file: ModelFile, plan: PlanInput): Plan => prepared(kernel, file.bytes, file.name, plan);
  // each goes to the server with its plans: a project that waited for them would be summed up without them first
  const bring = (file: ModelFile, ...plans: readonly Named[]): Promise<void> => give(base, cards, file, plans);
  const bare = { version: 5, printer: desktop } as const;
  const kit = zipped('Ceremonial anchor', 'ceremonial-anchor', anchor(kernel));
  const kitPosed = onBeds(kit, bare);
  await bring(kit, [ON_BEDS, kitPosed], ['At the bench', halfOnBench(kitPosed)]);
  const doll = zipped('Heron puppet', 'heron-puppet', puppet(kernel));
  await bring(
    doll,
    ['A neck that swings, two heads, and a tail on a hinge', puppetPlan],
    [ON_BEDS, onBeds(doll, puppetPlan)],
  );
  const face = { name: 'Heron visor.stl', bytes: writeStlBinary(visor(), 'visor') };
  await bring(face, [ON_BEDS, onBeds(face, bare)]);
  const ring = { name: 'Rope-work hoop.stl', bytes: writeStlBinary(hoop(), 'hoop') };
  const hoopPosed = onBeds(ring, hoopPlan);
  await bring(ring, ['Six equal segments', hoopPlan], [ON_BEDS, hoopPosed], ['At the bench', doneOnBench(hoopPosed)]);
  const figure = { name: 'Heron herald.stl', bytes: writeStlBinary(herald(kernel), 'herald') };
  await bring(figure, ['Seams, joints and an order, proposed', proposed(kernel, figure.bytes, figure.name, bare)]);
  await bring({ name: 'Anchor in one.stl', bytes: writeStlBinary(anchorInOne(kernel), 'anchor') }, [
    'One fluke off',
    flukePlan,
  ]);
  const lamp = { name: 'Ebb-bell lantern.stl', bytes: writeStlBinary(lantern(kernel), 'lantern') };
  await bring(lamp, ['Two seams, two keys and three pins', lanternPlan], [ON_BEDS, onBeds(lamp, lanternPlan)]);
  const known = (await call(base, routes.equipment, 'GET')) as EquipmentRecord;
  if (known.equipment.printers.length === 0) {
    await call(base, routes.equipment, 'PUT', { basedOn: known.revision, equipment });
  }
  await writeFile(mark, JSON.stringify({ made: new Date().toISOString() }));
}

const ON_BEDS = 'Pose all pieces and fill beds';

interface ModelFile {
  readonly name: string;
  readonly bytes: Uint8Array;
}

/** A plan, and the words it is saved with. */
type Named = readonly [words: string, plan: PlanInput];

/** A model with its colours, as one file. */
function zipped(name: string, inside: string, model: Parameters<typeof writeModel>[0]): ModelFile {
  const files = writeModel(model, 'obj', inside);
  return { name: `${name}.zip`, bytes: zipSync(Object.fromEntries(files.map((f) => [f.name, f.bytes]))) };
}

/** Brings a model in and gives it its plans, one after the other. One that an earlier start has brought in gets the plans only. */
async function give(base: string, cards: readonly ProjectCard[], file: ModelFile, plans: readonly Named[]) {
  const there = cards.find((c) => c.name === file.name.replace(/\.\w+$/, ''));
  const id = there?.id ?? (await taken(base, file));
  let project = (await call(base, routes.project(id), 'GET')) as Project;
  for (const [label, plan] of plans) {
    const saved = { gesture: randomUUID(), basedOn: project.revision, label, plan };
    project = (await call(base, routes.plan(id), 'PUT', saved)) as Project;
  }
}

/** The project that the import of a file ends with. */
async function taken(base: string, { name, bytes }: ModelFile): Promise<string> {
  const { id: job } = (await call(base, routes.upload(name, false), 'POST', bytes)) as Job;
  const events = await (await fetch(base + routes.jobEvents(job))).text();
  const last = JSON.parse(events.trim().split('\n\n').at(-1)!.replace('data: ', '')) as Job;
  if (!last.projectId) throw new Error(last.error?.message ?? 'The sample model was not taken.');
  return last.projectId;
}

async function call(base: string, path: string, method: string, body?: unknown): Promise<unknown> {
  const binary = body instanceof Uint8Array;
  const response = await fetch(base + path, {
    method,
    ...(body === undefined ? {} : { body: binary ? (body as Uint8Array<ArrayBuffer>) : JSON.stringify(body) }),
    headers: {
      'Content-Type': binary ? 'application/octet-stream' : 'application/json',
      // models are made between two calls: by then the server has closed what was left open
      Connection: 'close',
    },
  });
  if (!response.ok) throw new Error(`${method} ${path}: ${await response.text()}`);
  return response.json();
}

import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { type EquipmentRecord, type Job, type Project, routes } from '@gephyra/contract';
import { loadKernel, loadSimplifier, type PlanInput, writeModel, writeStlBinary } from '@gephyra/core';
import { zipSync } from 'fflate';
import { anchor, anchorInOne, hoop, lantern, visor } from './models.ts';

const polar = (radius: number, degrees: number): [number, number] => [
  Number((radius * Math.cos((degrees * Math.PI) / 180)).toFixed(3)),
  Number((radius * Math.sin((degrees * Math.PI) / 180)).toFixed(3)),
];

/** The lantern on its way: two seams, keys on one, pins on the other, one of them too near the edge. */
export const lanternPlan = {
  version: 2,
  printer: { name: 'Desktop 220', size: [220, 220, 250], margin: 2 },
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

/** The anchor in one: its left fluke comes off at the arm, and nothing else is cut there. */
export const flukePlan = {
  version: 2,
  printer: { name: 'Desktop 220', size: [220, 220, 250], margin: 2 },
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
    { id: 's2', name: 'Under the stock', kind: 'flat', origin: [0, 0, 650], normal: [0, 0, 1] },
  ],
  zones: [{ id: 'z1', name: 'Ring lug', kind: 'sphere', at: [0, 0, 800], radius: 34 }],
} satisfies PlanInput;

/** The hoop in six equal segments. */
export const hoopPlan = {
  version: 2,
  printer: { name: 'Desktop 300', size: [300, 300, 300], margin: 2 },
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
  console.log('Making the props of Brackhythe …');
  const kernel = await loadKernel();
  await loadSimplifier();
  // all made first: while one is made the server, in the same process, cannot answer
  const anchorFiles = writeModel(anchor(kernel), 'obj', 'ceremonial-anchor');
  const visorBytes = writeStlBinary(visor(), 'visor');
  const lanternBytes = writeStlBinary(lantern(kernel), 'lantern');
  const wholeBytes = writeStlBinary(anchorInOne(kernel), 'anchor');
  const hoopBytes = writeStlBinary(hoop(), 'hoop');
  const anchorZip = zipSync(Object.fromEntries(anchorFiles.map((f) => [f.name, f.bytes])));
  await bring(base, 'Ceremonial anchor.zip', anchorZip);
  await bring(base, 'Heron visor.stl', visorBytes);
  const ring = await bring(base, 'Rope-work hoop.stl', hoopBytes);
  await give(base, ring, 'Six equal segments', hoopPlan);
  const whole = await bring(base, 'Anchor in one.stl', wholeBytes);
  await give(base, whole, 'One fluke off', flukePlan);
  const project = await bring(base, 'Ebb-bell lantern.stl', lanternBytes);
  await give(base, project, 'Two seams, two keys and three pins', lanternPlan);
  const known = (await call(base, routes.equipment, 'GET')) as EquipmentRecord;
  if (known.equipment.printers.length === 0) {
    await call(base, routes.equipment, 'PUT', { basedOn: known.revision, equipment });
  }
  await writeFile(mark, JSON.stringify({ made: new Date().toISOString() }));
}

const give = (base: string, project: Project, label: string, plan: PlanInput): Promise<unknown> =>
  call(base, routes.plan(project.id), 'PUT', { basedOn: project.revision, label, plan });

async function bring(base: string, name: string, bytes: Uint8Array): Promise<Project> {
  const { id } = (await call(base, routes.upload(name, false), 'POST', bytes)) as Job;
  const events = await (await fetch(base + routes.jobEvents(id))).text();
  const last = JSON.parse(events.trim().split('\n\n').at(-1)!.replace('data: ', '')) as Job;
  if (!last.projectId) throw new Error(last.error?.message ?? 'The sample model was not taken.');
  return (await call(base, routes.project(last.projectId), 'GET')) as Project;
}

async function call(base: string, path: string, method: string, body?: unknown): Promise<unknown> {
  const binary = body instanceof Uint8Array;
  const response = await fetch(base + path, {
    method,
    ...(body === undefined ? {} : { body: binary ? (body as Uint8Array<ArrayBuffer>) : JSON.stringify(body) }),
    headers: { 'Content-Type': binary ? 'application/octet-stream' : 'application/json' },
  });
  if (!response.ok) throw new Error(`${method} ${path}: ${await response.text()}`);
  return response.json();
}

import fs from 'node:fs';
import { mkdir, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { createServer } from 'node:net';
import { hostname } from 'node:os';
import { join } from 'node:path';
import { parsePlan } from '@gephyra/core';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { tempFolder } from '../testing/client.ts';
import { BlobStore } from './blobs.ts';
import { backUp } from './db/backup.ts';
import { openDatabase } from './db/open.ts';
import { lockFolder } from './lock.ts';
import { Projects } from './projects.ts';

const source = {
  hash: '0'.repeat(64),
  fileName: 'bell.stl',
  format: 'stl-binary',
  unit: null,
  truncated: false,
  bodies: [],
  notes: [],
};
const plan = (z: number) =>
  parsePlan({
    version: 5,
    printer: { size: [220, 220, 250] },
    seams: [{ id: 's1', kind: 'flat', origin: [0, 0, z], normal: [0, 0, 1] }],
  });

describe('the lock of a data folder', () => {
  let folder = '';
  beforeAll(async () => {
    // longer than the path of a socket may be
    folder = join(await tempFolder(), 'brackhythe-harbour-pageant-'.repeat(6));
    await mkdir(folder);
  });
  afterAll(() => rm(folder, { recursive: true, force: true }));

  it('is held once, given back, and taken again, whatever the length of the path', async () => {
    const unlock = await lockFolder(folder);
    await expect(lockFolder(folder)).rejects.toMatchObject({ code: 'data.inUse' });
    await unlock();
    await (await lockFolder(folder))();
    expect(await readdir(folder)).toEqual([]);
  });

  it('is taken from a process that is gone, or whose number another one has by now', async () => {
    const gone = { pid: 2 ** 22 + 1, host: hostname(), began: '' };
    const reused = { pid: process.pid, host: hostname(), began: 'another time' };
    for (const holder of [JSON.stringify(gone), JSON.stringify(reused), '{"pi', '']) {
      await writeFile(join(folder, 'lock'), holder);
      await (await lockFolder(folder))();
    }
    expect(await readdir(folder)).toEqual([]);
  });

  it('is not taken from another machine, and says which', async () => {
    await writeFile(join(folder, 'lock'), JSON.stringify({ pid: 7, host: 'quay', began: '' }));
    await expect(lockFolder(folder)).rejects.toThrow(/in use on quay \(process 7\).*delete the file/);
    await rm(join(folder, 'lock'));
  });

  it('goes on from a folder that was held by a socket', async () => {
    const short = await tempFolder();
    const server = createServer();
    await new Promise<void>((done) => server.listen(join(short, 'lock'), done));
    await (await lockFolder(short))();
    server.close();
    await rm(short, { recursive: true, force: true });
  });

  it('is given to one of many that ask at once', async () => {
    await writeFile(join(folder, 'lock'), JSON.stringify({ pid: 2 ** 22 + 1, host: hostname(), began: '' }));
    const asked = await Promise.allSettled(Array.from({ length: 12 }, () => lockFolder(folder)));
    const held = asked.filter((a) => a.status === 'fulfilled');
    expect(held).toHaveLength(1);
    await held[0].value();
  });
});

describe('the database', () => {
  let folder = '';
  let database: Awaited<ReturnType<typeof openDatabase>>;
  beforeAll(async () => {
    folder = await tempFolder();
    database = await openDatabase(folder);
  });
  afterAll(async () => {
    await database.close();
    await rm(folder, { recursive: true, force: true });
  });

  it('has flushed its log when it acknowledges a change, every time', async () => {
    const projects = new Projects(database.db);
    const id = await projects.create('Bell', source, plan(0));
    const flushed: string[] = [];
    const spy = vi.spyOn(fs, 'fsyncSync').mockImplementation((fd) => {
      flushed.push(fs.readlinkSync(`/proc/self/fd/${fd}`));
    });
    for (let n = 1; n <= 10; n++) {
      flushed.length = 0;
      await projects.save(id, { gesture: `move-number-${n}`, basedOn: n }, `Move ${n}`, plan(n));
      expect(flushed.filter((path) => path.includes('pg_wal')).length).toBeGreaterThan(0);
    }
    flushed.length = 0;
    await database.db.execute('checkpoint');
    // the pages themselves, before the log may forget what is in them
    expect(flushed.filter((path) => path.includes('/base/')).length).toBeGreaterThan(0);
    spy.mockRestore();
  });

  it('is copied before it is opened, the newest five kept, and opens from a copy', async () => {
    await database.close();
    for (let day = 1; day <= 7; day++) await backUp(folder, new Date(Date.UTC(2026, 10, day)));
    const kept = (await readdir(join(folder, 'backups'))).sort();
    expect(kept.map((n) => n.slice(0, 10))).toEqual([3, 4, 5, 6, 7].map((d) => `2026-11-0${d}`));
    // what a damaged disk may leave
    const control = join(folder, 'database', 'global', 'pg_control');
    await writeFile(control, (await readFile(control)).fill(0));
    await expect(openDatabase(folder)).rejects.toMatchObject({ code: 'data.database' });
    await rm(join(folder, 'database'), { recursive: true });
    fs.renameSync(join(folder, 'backups', kept[4]), join(folder, 'database'));
    database = await openDatabase(folder);
    expect([...(await new Projects(database.db).names()).values()]).toEqual(['Bell']);
  });
});

describe('the store of files', () => {
  it('keeps a file that is stored again while an equal one is let go', async () => {
    const folder = await tempFolder();
    const blobs = await BlobStore.open(folder);
    const { hash } = await blobs.put([Uint8Array.of(1, 2)], 10);
    const { stored } = blobs;
    await blobs.keep([Uint8Array.of(1, 2)], 10, async (same) => {
      expect(same).toBe(hash);
      await blobs.remove(hash, blobs.stored);
      expect(await blobs.sweep(new Set(), 0)).toBe(0);
    });
    // it was looked up whether it is in use before the second was stored
    await blobs.remove(hash, stored);
    expect(await blobs.size(hash)).toBe(2);
    expect(await blobs.sweep(new Set(), 60_000)).toBe(0);
    await blobs.remove(hash, blobs.stored);
    expect(await blobs.size(hash)).toBe(0);
    await rm(folder, { recursive: true, force: true });
  });

  it('gives back what it was given by its hash, and says of a missing one that it is gone', async () => {
    const folder = await tempFolder();
    const blobs = await BlobStore.open(folder);
    const { hash } = await blobs.put([Uint8Array.of(1, 2, 3)], 10);
    expect([...(await blobs.read(hash))]).toEqual([1, 2, 3]);
    await expect(blobs.stream('f'.repeat(64))).rejects.toMatchObject({ code: 'blob.gone' });
    await rm(folder, { recursive: true, force: true });
  });
});

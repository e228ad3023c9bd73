import { mkdir, readFile } from 'node:fs/promises';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { UPLOAD_LIMIT } from '@gephyra/contract';
import { GephyraError } from '@gephyra/core';
import express from 'express';
import { BlobStore } from './blobs.ts';
import { backUp } from './db/backup.ts';
import { type Database, openDatabase } from './db/open.ts';
import { EquipmentStore } from './equipment.ts';
import { freshNonce, headers, sameMachine } from './guards.ts';
import { type JobOptions, Jobs } from './jobs/jobs.ts';
import { lockFolder } from './lock.ts';
import { PrintDiary } from './printers/diary.ts';
import { Prints } from './printers/prints.ts';
import { problemHandler } from './problems.ts';
import { Projects } from './projects.ts';
import { equipmentRoutes } from './routes/equipment.ts';
import { jobRoutes } from './routes/jobs.ts';
import { printRoutes } from './routes/prints.ts';
import { projectRoutes } from './routes/projects.ts';

/** Where the built page wants the number of its answer, as the build writes it. */
const NONCE = 'NONCE-OF-THIS-ANSWER';

/** How often what is kept no longer is let go, ms. */
const TIDY = 3600_000;
/** Files younger than this may be about to be recorded, ms. */
const SETTLED = 3600_000;

export interface ServerOptions {
  /** folder that holds the database and the blobs; made when missing */
  readonly data: string;
  /** 0: any free one */
  readonly port: number;
  /** folder of the built web application */
  readonly web?: string;
  readonly uploadLimit?: number;
  readonly jobs?: JobOptions;
}

export interface RunningServer {
  readonly port: number;
  readonly db: Database;
  readonly projects: Projects;
  readonly jobs: Jobs;
  readonly blobs: BlobStore;
  close(): Promise<void>;
}

/**
 * Opens the data folder and listens on the loopback address.
 * Throws GephyraError `data.inUse` when another server holds the folder, `data.database` when its database is broken,
 * `port.taken` when the port is in use.
 */
export async function startServer(options: ServerOptions): Promise<RunningServer> {
  await mkdir(options.data, { recursive: true });
  const unlock = await lockFolder(options.data);
  const blobs = await BlobStore.open(join(options.data, 'blobs'));
  const database = await opened(options.data).catch(async (error: unknown) => {
    await unlock();
    throw error;
  });
  const projects = new Projects(database.db);
  const prints = new Prints(database.db);
  const jobs = new Jobs(database.db, blobs, projects, prints, options.jobs);
  const diary = new PrintDiary(prints, projects, (project) => jobs.summaries.wish(project));
  await jobs.tidy(0);
  await jobs.resume();
  diary.start();
  projects.watch(() => diary.wake());
  const tidying = setInterval(() => {
    jobs.tidy(SETTLED).catch((error: unknown) => console.error(error));
  }, TIDY);
  tidying.unref();

  const app = express();
  app.disable('x-powered-by');
  app.use(freshNonce, headers, sameMachine);
  app.use('/api/projects', projectRoutes({ projects, jobs, blobs, uploadLimit: options.uploadLimit ?? UPLOAD_LIMIT }));
  app.use('/api/jobs', jobRoutes({ jobs, blobs }));
  app.use('/api/prints', printRoutes({ prints, diary, projects, jobs, blobs }));
  app.use('/api/equipment', equipmentRoutes(new EquipmentStore(database.db)));
  app.use('/api', () => {
    throw new GephyraError('route.unknown', 'There is nothing here.');
  });
  if (options.web) {
    const web = options.web;
    const files = express.static(web, { index: false, setHeaders: cacheHashed });
    // the page itself is written anew for each answer
    app.use((request, response, next) => (request.path === '/index.html' ? next() : files(request, response, next)));
    // pages are the application's; what looks like a file and is none, or is no reading at all, is not there
    app.get(/^(?:[^.]*|\/index\.html)$/, async (_request, response) => {
      const page = await readFile(join(web, 'index.html'), 'utf8');
      response.set('Cache-Control', 'no-store').type('html').send(page.replaceAll(NONCE, response.locals.nonce));
    });
  }
  app.use(() => {
    throw new GephyraError('route.unknown', 'There is nothing here.');
  });
  app.use(problemHandler);

  const server = createServer(app);
  const close = async (): Promise<void> => {
    server.closeAllConnections();
    await new Promise((done) => server.close(done));
    clearInterval(tidying);
    await diary.close();
    await jobs.close();
    await database.close();
    await unlock();
  };
  try {
    await listen(server, options.port);
  } catch (error) {
    await close().catch(() => {});
    throw error;
  }
  return { port: (server.address() as AddressInfo).port, db: database.db, projects, jobs, blobs, close };
}

async function opened(data: string) {
  await backUp(data);
  return openDatabase(data);
}

/** Built files carry a hash in their name, so they never change. */
function cacheHashed(response: { setHeader(name: string, value: string): void }, path: string): void {
  if (/[\\/]assets[\\/]/.test(path)) response.setHeader('Cache-Control', 'public, max-age=31536000, immutable');
}

function listen(server: Server, port: number): Promise<void> {
  return new Promise((resolve, reject) => {
    server.once('error', (error: NodeJS.ErrnoException) => {
      const taken = error.code === 'EADDRINUSE';
      reject(taken ? new GephyraError('port.taken', `Port ${port} is in use by another program.`) : error);
    });
    server.listen(port, '127.0.0.1', () => resolve());
  });
}

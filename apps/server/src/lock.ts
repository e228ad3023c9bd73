import { rm } from 'node:fs/promises';
import { connect, createServer, type Server } from 'node:net';
import { join } from 'node:path';
import { GephyraError } from '@gephyra/core';

/**
 * Holds a data folder for this process by listening on a socket in it. A lock file could be left behind by a crash; a
 * socket nobody answers on is surely free.
 *
 * Throws GephyraError `data.inUse` when another server answers.
 */
export async function lockFolder(folder: string): Promise<() => Promise<void>> {
  const path =
    process.platform === 'win32' ? `\\\\.\\pipe\\gephyra-${folder.replace(/\W+/g, '-')}` : join(folder, 'lock');
  for (let attempt = 0; ; attempt++) {
    try {
      const server = await listen(path);
      return () => new Promise((done) => server.close(() => done()));
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EADDRINUSE' || attempt > 2) throw error;
      if (await answers(path)) {
        throw new GephyraError(
          'data.inUse',
          `Another Gephyra server is using the data folder ${folder}. Stop it first.`,
        );
      }
      await rm(path, { force: true });
    }
  }
}

function listen(path: string): Promise<Server> {
  return new Promise((resolve, reject) => {
    const server = createServer((socket) => socket.end());
    server.once('error', reject);
    server.listen(path, () => {
      server.unref();
      resolve(server);
    });
  });
}

function answers(path: string): Promise<boolean> {
  return new Promise((resolve) => {
    const socket = connect(path);
    socket.once('connect', () => {
      socket.destroy();
      resolve(true);
    });
    socket.once('error', () => resolve(false));
  });
}

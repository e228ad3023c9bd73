import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import process from 'node:process';
import { fileURLToPath } from 'node:url';
import { GephyraError } from '@gephyra/core';
import { startServer } from './server.ts';

const root = fileURLToPath(new URL('../../../', import.meta.url));
const web = resolve(root, 'apps/web/dist');

try {
  const server = await startServer({
    data: resolve(process.env.GEPHYRA_DATA ?? resolve(root, 'data/own')),
    port: Number(process.env.GEPHYRA_PORT ?? 4330),
    ...(existsSync(web) ? { web } : {}),
  });
  console.log(`Gephyra is at http://localhost:${server.port}`);
  for (const signal of ['SIGINT', 'SIGTERM'] as const) {
    process.once(signal, () => {
      server.close().finally(() => process.exit(0));
    });
  }
} catch (error) {
  console.error(error instanceof GephyraError ? error.message : error);
  process.exitCode = 1;
}

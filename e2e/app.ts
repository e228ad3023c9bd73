import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { createInterface } from 'node:readline';
import { fileURLToPath } from 'node:url';
import { bundled } from '../apps/server/src/bundled.ts';

const root = fileURLToPath(new URL('../', import.meta.url));
const MAIN = new URL('../apps/server/src/main.ts', import.meta.url);

/** The application on a data folder of its own, which can be stopped and started again. */
export class App {
  base = '';
  private process: ChildProcess | null = null;

  constructor(readonly data: string) {}

  async start(): Promise<void> {
    const child = spawn(process.execPath, [await bundled(MAIN)], {
      cwd: root,
      env: { ...process.env, GEPHYRA_DATA: this.data, GEPHYRA_PORT: this.base.split(':')[2] ?? '0' },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    this.process = child;
    for await (const line of createInterface({ input: child.stdout })) {
      const address = /http:\/\/localhost:\d+/.exec(line)?.[0];
      if (!address) continue;
      this.base = address;
      return;
    }
    throw new Error('The server ended before it listened.');
  }

  async stop(signal: 'SIGTERM' | 'SIGKILL' = 'SIGTERM'): Promise<void> {
    if (!this.process) return;
    this.process.kill(signal);
    await once(this.process, 'exit');
    this.process = null;
  }
}

import { defineConfig } from 'vitest/config';
import { BaseSequencer } from 'vitest/node';
import { runs } from './packages/core/testing/runs.ts';

/** Files that take longest: they begin first, so that none of them is still running when all others are done. */
const LONG = [
  'demo/seed.test.ts',
  'seams/propose.test.ts',
  'evaluate/random.test.ts',
  'server/src/kill.test.ts',
  'server/src/server.test.ts',
  'demo/order.test.ts',
  'server/src/record.test.ts',
  'jobs/jobs.test.ts',
  'demo/joints.test.ts',
  'printers/prints.test.ts',
  'repair/mend.test.ts',
  'laying/random.test.ts',
];

/** Those that need a document come last, together: a worker whose next file needs another environment ends, and all is loaded anew. */
class LongFirst extends BaseSequencer {
  override async sort(...[files]: Parameters<BaseSequencer['sort']>): ReturnType<BaseSequencer['sort']> {
    const rank = (id: string): number => {
      const at = LONG.findIndex((end) => id.endsWith(end));
      if (at >= 0) return at;
      return id.endsWith('.tsx') ? LONG.length + 1 : LONG.length;
    };
    return (await super.sort(files)).toSorted((a, b) => rank(a.moduleId) - rank(b.moduleId));
  }
}

export default defineConfig({
  test: {
    setupFiles: ['packages/core/testing/property-seed.ts'],
    include: ['*.test.ts', '{packages,apps,demo}/**/*.test.{ts,tsx}'],
    sequence: { sequencer: LongFirst },
    // test files share what they have loaded: no module keeps a state that another file could see
    isolate: false,
    // much of a run is waiting for servers and files, so no core is left idle for it
    maxWorkers: '100%',
    testTimeout: runs(180_000),
    hookTimeout: 180_000,
    // a state is waited for, however busy the machine is
    expect: { poll: { timeout: 30_000 } },
  },
});

import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    setupFiles: ['packages/core/testing/property-seed.ts'],
    include: ['*.test.ts', '{packages,apps,demo}/**/*.test.{ts,tsx}'],
    // test files share what they have loaded: no module keeps a state that another file could see
    isolate: false,
    // much of a run is waiting for servers and files, so no core is left idle for it
    maxWorkers: '100%',
    testTimeout: 60_000,
    hookTimeout: 60_000,
    // a state is waited for, however busy the machine is
    expect: { poll: { timeout: 30_000 } },
  },
});

import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['*.test.ts', '{packages,apps,demo}/**/*.test.{ts,tsx}'],
    testTimeout: 60_000,
    hookTimeout: 60_000,
    // a state is waited for, however busy the machine is
    expect: { poll: { timeout: 30_000 } },
  },
});

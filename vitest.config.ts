import { defineConfig } from 'vitest/config';

// Generous: on a busy machine a test that builds a demo twice takes minutes, and slowness is no failure here.
const shared = { environment: 'node' as const, testTimeout: 300_000, hookTimeout: 180_000, setupFiles: ['tests/support/properties.ts'] };

const KERNEL = ['src/kernel/**/*.test.ts', 'src/engine/**/*.test.ts'];
/** They play workers and clocks, and need no kernel. */
const PLAYED = ['src/engine/{client,helper}.test.ts'];

export default defineConfig({
  test: {
    // Two cores: kernels are heavy, so files run two at a time.
    maxWorkers: 2,
    projects: [
      { test: { ...shared, name: 'unit', include: ['src/{app,cli,core}/**/*.test.ts', 'src/*.test.ts', ...PLAYED] } },
      // Each worker opens one kernel for all its files: opening it for each took a quarter of their time.
      { test: { ...shared, name: 'kernel', include: KERNEL, exclude: PLAYED, isolate: false } },
      { test: { ...shared, name: 'reference', include: ['tests/reference/**/*.test.ts'], isolate: false } },
      {
        test: {
          ...shared,
          name: 'e2e',
          include: ['tests/e2e/**/*.test.ts'],
          testTimeout: 480_000,
        },
      },
    ],
  },
});

import { defineConfig } from 'vitest/config';

// Generous: on a busy machine a test that builds a demo twice takes minutes, and slowness is no failure here.
const shared = { environment: 'node' as const, testTimeout: 300_000, hookTimeout: 180_000, setupFiles: ['tests/support/properties.ts'] };

export default defineConfig({
  test: {
    // Two cores: kernels are heavy, so files run two at a time.
    maxWorkers: 2,
    projects: [
      { test: { ...shared, name: 'unit', include: ['src/**/*.test.ts'] } },
      { test: { ...shared, name: 'reference', include: ['tests/reference/**/*.test.ts'] } },
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

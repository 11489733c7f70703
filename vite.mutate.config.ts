import { defineConfig } from 'vitest/config';

const folder = process.env['MUTATE'] ?? 'core';

/** The tests beside what is mutated, and of what stands on it, without the plugins of the interface. */
export default defineConfig({
  test: {
    include: [...new Set([folder, 'core/session', 'core/screens', 'core/routines', 'kinds'])].map(
      (f) => `${f}/**/*.test.ts`,
    ),
    testTimeout: 60_000,
    setupFiles: ['scripts/quick-properties.ts'],
  },
});

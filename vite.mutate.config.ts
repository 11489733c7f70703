import { defineConfig } from 'vitest/config';

const folder = process.env['MUTATE'] ?? 'core';

/** Folders whose tests notice what breaks below them. Nothing that is drawn or run stands on the host. */
const ABOVE: Record<string, string[]> = { 'core/host': [], 'core/access': ['core/released'] };

/** The tests beside what is mutated, and of what stands on it, without the plugins of the interface. */
export default defineConfig({
  test: {
    include: [
      ...new Set([folder, ...(ABOVE[folder] ?? ['core/session', 'core/screens', 'core/routines', 'kinds'])]),
    ].map((f) => `${f}/**/*.test.ts`),
    testTimeout: 60_000,
    setupFiles: ['kinds/given/all.ts', 'scripts/quick-properties.ts'],
  },
});

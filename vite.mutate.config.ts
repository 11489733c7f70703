import { defineConfig } from 'vitest/config';

const folder = process.env['MUTATE'] ?? 'core';

/** The tests beside what is mutated, and of what stands on it, without the plugins of the interface. */
export default defineConfig({
  test: { include: [`${folder}/**/*.test.ts`, 'core/session/**/*.test.ts', 'kinds/**/*.test.ts'], testTimeout: 60_000 },
});

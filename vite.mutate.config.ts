import { defineConfig } from 'vitest/config';

/** Tests of the core alone, without the plugins of the interface. */
export default defineConfig({
  test: { include: ['{core,kinds}/**/*.test.ts'], testTimeout: 60_000 },
});

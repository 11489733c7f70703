/** Mutation testing by hand: `npm run mutate -- core/routines`. Breaks single lines and counts how many a test notices. */
const folder = process.env.MUTATE ?? 'core/routines';

export default {
  testRunner: 'vitest',
  plugins: ['@stryker-mutator/vitest-runner'],
  mutate: [`${folder}/**/*.ts`, `!${folder}/**/*.test.ts`, `!${folder}/**/fixture.ts`],
  // Which tests there are is said there.
  vitest: { configFile: 'vite.mutate.config.ts', related: false },
  reporters: ['clear-text', 'progress-append-only'],
  clearTextReporter: { allowColor: false, logTests: false },
  // TypeScript 7 has no interface that the runner could rewrite a tsconfig with; none is needed to run the tests.
  tsconfigFile: 'none.json',
  tempDirName: '.mutate',
  // From the root: a kind of element has the name of one of them.
  ignorePatterns: ['/dist', '/docs', '/e2e', '/bench', '/studio', '/player', '/server', '/demo', '/cli', '/public'],
  concurrency: 2,
  timeoutMS: 5_000,
  ignoreStatic: true,
  disableTypeChecks: false,
};

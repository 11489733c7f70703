import type { Test } from './run.ts';
export const tests: Test[] = [];

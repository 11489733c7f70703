import type { Browser } from 'puppeteer-core';
import type { Started } from '../server/server.ts';

/** What a test plays on. */
export interface Stage {
  server: Started;
  browser: Browser;
  /** A folder that is thrown away at the end. */
  folder: string;
  errors: string[];
}
export interface Test {
  name: string;
  run(stage: Stage): Promise<void>;
}

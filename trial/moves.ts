import { launch } from '../e2e/browser.ts';
import type { Stage } from '../e2e/stage.ts';
import { movesOfTwenty } from '../e2e/twenty-phones.ts';
import { onVictim, type Findings } from './server.ts';

/** Twenty phones in browsers move goods of the demo, some of them without a network. */
export const moves = (): Promise<Findings> =>
  onVictim('moves', async ({ url }, wrong) => {
    const chrome = await launch();
    const stage = { browser: chrome.browser, errors: [] as string[] } as unknown as Stage;
    try {
      const figures = await movesOfTwenty(url, stage, wrong);
      wrong.push(...stage.errors);
      return figures;
    } finally {
      await chrome.close();
    }
  });

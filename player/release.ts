import type { App } from '../core/app/schema.ts';
import type { Dressed } from '../core/app/themes.ts';
import { FORMAT, VERSION } from '../core/document/version.ts';
import { usesPatterns, usesRare } from '../core/formula/patterns.ts';

/** A release as it is kept on a device. `tag` is what it is known by at the host. */
export interface KeptRelease {
  app: App;
  number: number;
  tag?: string;
  /** Hosts elsewhere that it may ask, as the host says; absent in what was kept before it did. */
  hosts?: string[] | undefined;
  /** How it looks, as the host has worked it out; the same. */
  look?: Dressed | undefined;
}

/** The host has checked the document when it was released; here only its format is looked at. */
export function checked(app: App): App {
  if (app?.format !== FORMAT) throw new Error('The server did not send an app.');
  if (app.version > VERSION) throw new Error('This app needs a newer player. Reload the page.');
  return app;
}

/** The engine for patterns is large; only apps with a formula that needs it wait for it. */
export async function forPatterns({ files: _files, ...app }: App): Promise<void> {
  // Not the files of the app: they can be large, and hold no formulas.
  const json = JSON.stringify(app);
  if (usesPatterns(json)) await import('../core/formula/patterns-engine.ts');
  if (usesRare(json)) await import('../core/formula/rare-functions.ts');
}

/** How a release looks. What was kept before hosts said so is worked out here. */
export const lookOf = async ({ app, look }: KeptRelease): Promise<Dressed> =>
  look ?? (await import('../kinds/given/themes.ts')).dressed(app.look);

import { Dexie } from 'dexie';
import { emptyApp } from '../../core/app/document.ts';
import { BUNDLE_FORMAT, readBundle, writeBundle, type Bundle } from '../../core/formats/bundle.ts';
import { newId, newSecret } from '../../core/document/ids.ts';
import type { App } from '../../core/app/schema.ts';
import type { RecordState } from '../../core/records/change.ts';
import { HybridClock } from '../../core/host/clock.ts';
import { newDeviceId } from '../../core/host/device.ts';
import type { MadeApp } from '../../core/formats/make-app.ts';
import { DeviceDb } from '../../player/storage.ts';
import { recordsDbName, registry, type KeptApp } from './registry.ts';

/** Keeps a new app with its records in this browser. `progress` hears how many records are kept. */
export async function keepApp(
  made: MadeApp,
  more: Partial<KeptApp> = {},
  progress: (kept: number) => void = () => {},
  files: Bundle['files'] = {},
): Promise<string> {
  const { records } = made;
  const { timeZone } = Intl.DateTimeFormat().resolvedOptions();
  const app: App = made.app.zone || !timeZone ? made.app : { ...made.app, zone: timeZone };
  const db = new DeviceDb(recordsDbName(app.id));
  const clock = new HybridClock(newDeviceId());
  for (let i = 0; i < records.length; i += 5000) {
    const states = records.slice(i, i + 5000).map((r): RecordState => ({ ...r, stamp: clock.next() }));
    await db.save({ states });
    progress(Math.min(records.length, i + 5000));
  }
  for (const [hash, content] of Object.entries(files)) await db.keepFile(hash, new Blob([content as BlobPart]));
  db.close();
  await registry.apps.put({
    id: app.id,
    app,
    ownerKey: newSecret(),
    released: null,
    changed: new Date().toISOString(),
    ...more,
  });
  return app.id;
}

export const keepEmpty = (name = 'New app'): Promise<string> => keepApp({ app: emptyApp(name), records: [] });

/** Is a file an exported app? Other JSON is brought as tables. */
export const isAppFile = async (file: File): Promise<boolean> =>
  /\.kite\.json$/i.test(file.name) ||
  (/\.json$/i.test(file.name) && (await file.slice(0, 400).text()).includes(BUNDLE_FORMAT));

/** Reads an exported app and keeps it. An app that is here already comes in beside it, as a copy of its own. */
export async function keepBundle(text: string, fileName: string): Promise<string> {
  const bundle = readBundle(text, fileName);
  const here = await registry.apps.get(bundle.app.id);
  const app: App = here ? { ...bundle.app, id: newId('a'), name: `${bundle.app.name} copy` } : bundle.app;
  // A copy has a key of its own: one address belongs to one app.
  const key = here ? {} : bundle.ownerKey ? { ownerKey: bundle.ownerKey } : {};
  return keepApp({ app, records: bundle.records }, key, undefined, bundle.files);
}

/** The text of an app as it is exported. Throws in words when it cannot be. */
export function bundleText(kept: KeptApp, { records, files }: Pick<Bundle, 'records' | 'files'>): string {
  const address = kept.released?.address ?? null;
  return writeBundle({ app: kept.app, records, ownerKey: kept.ownerKey, address, files });
}

/** Removes an app from this browser. What is released on a host stays there. */
export async function forgetApp(id: string): Promise<KeptApp | undefined> {
  const kept = await registry.apps.get(id);
  await registry.apps.delete(id);
  return kept;
}

/** Removes the records of an app, and its steps, for good; called when the time for undoing has passed. */
export async function forgetRecords(id: string): Promise<void> {
  await registry.steps.delete(id);
  await Dexie.delete(recordsDbName(id));
}

/** Hands a file to the person. */
export function download(name: string, content: BlobPart, type: string): void {
  const url = URL.createObjectURL(new Blob([content], { type }));
  const a = document.createElement('a');
  a.href = url;
  a.download = name;
  a.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

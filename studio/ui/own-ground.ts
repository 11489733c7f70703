import { toast } from 'sonner';
import { base64Of } from '../../core/document/base64.ts';
import { newId } from '../../core/document/ids.ts';
import type { App } from '../../core/app/schema.ts';
import { readGeoJson } from '../../kinds/elements/plan/geojson.ts';
import { chooseFiles } from './files.ts';

/** The media type of RFC 7946. */
export const GEOJSON = 'application/geo+json';
/** It is kept with the app, which travels to every phone. */
const MOST_BYTES = 1_100_000;

/** Asks for a GeoJSON file from this computer. Null when none was chosen, or when it cannot be a ground; that is said. */
export async function chooseGround(): Promise<App['files'][number] | null> {
  const [file] = await chooseFiles('.geojson,.json,application/geo+json,application/json', false);
  if (!file) return null;
  try {
    if (file.size > MOST_BYTES)
      throw new Error(
        `It has ${(file.size / 1e6).toFixed(1)} MB; at most 1.1 MB go with an app. Simplify its lines first.`,
      );
    const bytes = new Uint8Array(await file.arrayBuffer());
    readGeoJson(new TextDecoder().decode(bytes));
    return { id: newId('p'), name: file.name.slice(0, 200), type: GEOJSON, data: base64Of(bytes) };
  } catch (e) {
    toast.error(`“${file.name}” cannot be drawn. ${(e as Error).message}`);
    return null;
  }
}

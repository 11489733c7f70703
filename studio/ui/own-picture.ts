import { toast } from 'sonner';
import { base64Of } from '../../core/document/base64.ts';
import { newId } from '../../core/document/ids.ts';
import type { App } from '../../core/app/schema.ts';
import { chooseFiles } from './files.ts';

/** A picture is kept with the app as it is up to so many bytes; a larger one is drawn smaller. */
const MOST_BYTES = 1_100_000;
const MOST_SIDE = 1600;

/** Asks for a picture from this computer, as it is kept with the app. Null when none was chosen or it cannot be read. */
export async function chooseOwnPicture(): Promise<App['files'][number] | null> {
  const [file] = await chooseFiles('image/png,image/jpeg,image/svg+xml,image/webp,image/gif', false);
  if (!file) return null;
  try {
    const kept = file.size > MOST_BYTES ? await smaller(file) : file;
    const data = base64Of(new Uint8Array(await kept.arrayBuffer()));
    return { id: newId('p'), name: file.name.slice(0, 200), type: kept.type || 'image/png', data };
  } catch {
    toast.error(`“${file.name}” cannot be read as a picture. Choose a JPEG, PNG, SVG or WebP.`);
    return null;
  }
}

async function smaller(file: File): Promise<Blob> {
  const picture = await createImageBitmap(file);
  for (let side = MOST_SIDE; side >= 200; side = Math.round(side * 0.7)) {
    const scale = Math.min(1, side / Math.max(picture.width, picture.height));
    const canvas = new OffscreenCanvas(Math.round(picture.width * scale), Math.round(picture.height * scale));
    canvas.getContext('2d')!.drawImage(picture, 0, 0, canvas.width, canvas.height);
    const blob = await canvas.convertToBlob({ type: 'image/jpeg', quality: 0.85 });
    if (blob.size <= MOST_BYTES) return blob;
  }
  throw new Error('It stays too large.');
}

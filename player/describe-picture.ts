import type { DeviceAsk } from '../core/routines/asks.ts';
import type { KeptValue } from '../core/records/kept-value.ts';
import { describe, type Pixels } from '../core/words/describe.ts';
import { codeIn } from './scan.ts';

/** Pictures are looked at no larger than this, in pixels. */
const MOST = 400;

/** Says what is on a picture, from its points. Rejects in words when it cannot be read. */
export async function describePicture(
  { picture, samples }: Extract<DeviceAsk, { do: 'describe' }>,
  contentOf: (address: string) => Promise<Blob>,
): Promise<KeptValue> {
  const content = await contentOf(picture);
  const pixels = await pixelsOf(content);
  const code = await codeIn(content).catch(() => null);
  const known = await Promise.all(
    samples.map(async (s) => {
      const own = await contentOf(s.address)
        .then(pixelsOf)
        .catch(() => null);
      return own ? [{ name: s.name, pixels: own }] : [];
    }),
  );
  const { words, sure } = describe(pixels, code, known.flat());
  return { context: { words, sure } };
}

async function pixelsOf(content: Blob): Promise<Pixels> {
  const url = URL.createObjectURL(content);
  try {
    const picture = new Image();
    picture.src = url;
    await picture.decode().catch(() => {
      throw new Error('This file cannot be read as a picture.');
    });
    // A drawing (SVG) may have no size of its own.
    const [wide, high] = [picture.naturalWidth || 300, picture.naturalHeight || 300];
    const scale = Math.min(1, MOST / Math.max(wide, high));
    const canvas = document.createElement('canvas');
    canvas.width = Math.max(1, Math.round(wide * scale));
    canvas.height = Math.max(1, Math.round(high * scale));
    const pen = canvas.getContext('2d', { willReadFrequently: true })!;
    pen.drawImage(picture, 0, 0, canvas.width, canvas.height);
    const { data, width, height } = pen.getImageData(0, 0, canvas.width, canvas.height);
    return { data, width, height };
  } finally {
    URL.revokeObjectURL(url);
  }
}

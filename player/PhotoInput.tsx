import { useState } from 'react';
import type { Cell } from '../core/fields/lists.ts';
import { usePlayer } from './context.ts';
import { useKept } from './kept.ts';

const LONGEST = 1600;
/** A photo larger than this is kept with less detail; bytes. */
const LARGE = 900_000;

/** Makes a photo small enough to send from anywhere: at most 1600 pixels along its longer side, as JPEG. */
export async function shrink(file: Blob): Promise<Blob> {
  const picture = await createImageBitmap(file);
  const scale = Math.min(1, LONGEST / Math.max(picture.width, picture.height));
  const canvas = document.createElement('canvas');
  canvas.width = Math.max(1, Math.round(picture.width * scale));
  canvas.height = Math.max(1, Math.round(picture.height * scale));
  canvas.getContext('2d')!.drawImage(picture, 0, 0, canvas.width, canvas.height);
  picture.close();
  for (const quality of [0.82, 0.65, 0.45]) {
    const small = await new Promise<Blob | null>((resolve) => {
      canvas.toBlob(resolve, 'image/jpeg', quality);
    });
    if (small && (small.size < LARGE || quality === 0.45)) return small;
  }
  throw new Error('This photo cannot be made smaller. Choose another one.');
}

/** What a photo is called when it has become a JPEG. */
export const photoName = (name: string): string => (name ? `${name.replace(/\.\w{1,5}$/, '')}.jpg` : '');

/** Takes a photo with the camera or from the gallery, whichever the device offers. */
export function PhotoInput({ id, value, set }: { id: string; value: string; set(cell: Cell): void }) {
  const { api } = usePlayer();
  const [problem, setProblem] = useState('');
  const { url } = useKept(api, value);
  const take = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    let small: Blob;
    try {
      small = await shrink(file);
    } catch {
      return setProblem('This file cannot be read as a picture. Choose a JPEG or PNG.');
    }
    try {
      set(await api.keepFile(small, photoName(file.name)));
      setProblem('');
    } catch (e) {
      setProblem((e as Error).message);
    }
  };
  return (
    <div className="k-photo">
      {url && /^(https?:|data:image\/|blob:)/.test(url) && <img src={url} alt="" />}
      <div>
        <label className="k-pick" htmlFor={id}>
          {value ? 'Choose another photo' : 'Take or choose a photo'}
        </label>
        <input
          id={id}
          type="file"
          accept="image/*"
          className="k-hidden"
          onChange={(ev) => void take(ev.target.files?.[0])}
        />
        {value && (
          <button type="button" className="k-button" data-look="plain" onClick={() => set(null)}>
            Take it off
          </button>
        )}
      </div>
      {problem && (
        <p className="k-problem" role="alert">
          {problem}
        </p>
      )}
    </div>
  );
}

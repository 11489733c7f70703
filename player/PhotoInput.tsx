import { useState } from 'react';
import type { Cell } from '../core/fields/lists.ts';

const LONGEST = 1000;

/** Makes a photo small enough to keep and send: at most 1000 pixels along its longer side, as JPEG. */
export async function shrink(file: File): Promise<string> {
  const picture = await createImageBitmap(file);
  const scale = Math.min(1, LONGEST / Math.max(picture.width, picture.height));
  const canvas = document.createElement('canvas');
  canvas.width = Math.round(picture.width * scale);
  canvas.height = Math.round(picture.height * scale);
  canvas.getContext('2d')!.drawImage(picture, 0, 0, canvas.width, canvas.height);
  for (const quality of [0.8, 0.6, 0.4]) {
    const url = canvas.toDataURL('image/jpeg', quality);
    if (url.length < 390_000) return url;
  }
  throw new Error('This photo is too large to keep.');
}

/** Takes a photo with the camera or from the gallery, whichever the device offers. */
export function PhotoInput({ id, value, set }: { id: string; value: string; set(cell: Cell): void }) {
  const [problem, setProblem] = useState('');
  const take = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    try {
      set(await shrink(file));
      setProblem('');
    } catch (e) {
      setProblem(
        e instanceof Error && e.message.startsWith('This photo')
          ? e.message
          : 'This file cannot be read as a picture. Choose a JPEG or PNG.',
      );
    }
  };
  return (
    <div className="k-photo">
      {value && /^(https?:|data:image\/)/.test(value) && <img src={value} alt="" />}
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

import { useState } from 'react';
import { usePlayer } from '../../../player/context.ts';
import type { InputProps } from '../../../player/inputs.ts';
import { Problem } from '../../../player/Problem.tsx';
import { codeIn } from '../../../player/scan.ts';

/** A code, typed by hand or by a hand-held scanner, or read from a photo. */
export default function CodeInput({ e, id, value: cell, set }: InputProps) {
  const { tap } = usePlayer();
  const value = String(cell ?? '');
  const [problem, setProblem] = useState('');
  const scan = async (photo: File | undefined): Promise<void> => {
    if (!photo) return;
    try {
      const code = await codeIn(photo);
      setProblem(code ? '' : 'No code is seen in this photo. Go closer, hold still, and try again.');
      if (!code) return;
      set(code);
      if (e.scanned === 'act') tap(e.key, e.id, 'scanned', { code });
    } catch {
      setProblem('This file cannot be read as a picture. Take a photo of the code.');
    }
  };
  return (
    <div className="k-several">
      <div className="k-beside">
        <input id={id} type="text" value={value} onChange={(ev) => set(ev.target.value || null)} />
        <label className="k-button" data-look="quiet" htmlFor={`${id}-scan`}>
          Scan
        </label>
        <input
          id={`${id}-scan`}
          type="file"
          accept="image/*"
          capture="environment"
          className="k-hidden"
          onChange={(ev) => void scan(ev.target.files?.[0])}
        />
      </div>
      <Problem words={problem} />
    </div>
  );
}

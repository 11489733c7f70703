import { useState } from 'react';
import { fileName } from '../../../core/fields/kept-address.ts';
import { usePlayer } from '../../../player/context.ts';
import type { InputProps } from '../../../player/inputs.ts';
import { useKept } from '../../../player/kept.ts';
import { Problem } from '../../../player/Problem.tsx';

export default function FileInput({ e, id, value: cell, set }: InputProps) {
  const { api } = usePlayer();
  const [problem, setProblem] = useState('');
  const sound = e.type === 'sound';
  const value = String(cell ?? '');
  const { url } = useKept(api, sound ? value : '');
  const take = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    try {
      set(await api.keepFile(file, file.name));
      setProblem('');
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <div className="k-several">
      {sound && url && <audio className="k-sound" controls src={url} />}
      {value && !sound && <span>{fileName(value)}</span>}
      <div className="k-beside">
        <label className="k-pick" htmlFor={id}>
          {value ? 'Choose another' : sound ? 'Record or choose a sound' : 'Choose a file'}
        </label>
        <input
          id={id}
          type="file"
          className="k-hidden"
          {...(sound && { accept: 'audio/*' })}
          onChange={(ev) => void take(ev.target.files?.[0])}
        />
        {value && (
          <button type="button" className="k-button" data-look="plain" onClick={() => set(null)}>
            Take it off
          </button>
        )}
      </div>
      <Problem words={problem} />
    </div>
  );
}

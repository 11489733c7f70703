import { useState } from 'react';
import { readPlaceText } from '../../../core/fields/read-place.ts';
import type { InputProps } from '../../../player/inputs.ts';
import { Problem } from '../../../player/Problem.tsx';

export default function PlaceInput({ id, value: cell, set }: InputProps) {
  const value = String(cell ?? '');
  const [problem, setProblem] = useState('');
  const [asking, setAsking] = useState(false);
  const here = (): void => {
    if (!('geolocation' in navigator)) {
      setProblem('This device does not say where it is. Type the two numbers instead.');
      return;
    }
    setAsking(true);
    navigator.geolocation.getCurrentPosition(
      ({ coords }) => {
        setAsking(false);
        setProblem('');
        set(`${coords.latitude.toFixed(6)},${coords.longitude.toFixed(6)}`);
      },
      (error) => {
        setAsking(false);
        setProblem(
          error.code === error.PERMISSION_DENIED
            ? 'This app may not ask where you are. Allow it in the browser’s settings, or type the two numbers.'
            : 'Where you are cannot be found now. Try again outside, or type the two numbers.',
        );
      },
      { enableHighAccuracy: true, timeout: 15_000 },
    );
  };
  const known = readPlaceText(value);
  return (
    <div className="k-several">
      <div className="k-beside">
        <input
          id={id}
          type="text"
          inputMode="text"
          placeholder="52.5200, 13.4050"
          value={known && /^-?[\d.]+,-?[\d.]+$/.test(value) ? value.replace(',', ', ') : value}
          onChange={(ev) => set(ev.target.value || null)}
        />
        <button type="button" className="k-button" data-look="quiet" disabled={asking} onClick={here}>
          {asking ? 'Looking' : 'Where I am'}
        </button>
      </div>
      <Problem words={problem} />
    </div>
  );
}

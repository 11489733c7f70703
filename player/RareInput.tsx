import { useState } from 'react';
import type { Cell } from '../core/fields/lists.ts';
import { fileName } from '../core/records/format.ts';
import { readPlaceText, readPlanText } from '../core/fields/read-text.ts';
import type { Drawn } from '../core/screens/element.ts';
import type { input } from '../kinds/elements/input/definition.ts';
import { fileAddress } from './file-address.ts';

interface Props {
  e: Drawn<typeof input>;
  id: string;
  value: string;
  set(cell: Cell): void;
}

/** Inputs that few forms have: a file, a sound, where one is, a spot on a plan, a code to scan. */
export default function RareInput(props: Props) {
  switch (props.e.type) {
    case 'file':
    case 'sound':
      return <FileInput {...props} />;
    case 'place':
      return <PlaceInput {...props} />;
    case 'plan':
      return <PlanInput {...props} />;
    default:
      return <CodeInput {...props} />;
  }
}

const Problem = ({ words }: { words: string }) =>
  words ? (
    <p className="k-problem" role="alert">
      {words}
    </p>
  ) : null;

function FileInput({ e, id, value, set }: Props) {
  const [problem, setProblem] = useState('');
  const sound = e.type === 'sound';
  const take = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    try {
      set(await fileAddress(file));
      setProblem('');
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <div className="k-several">
      {value && (sound ? <audio className="k-sound" controls src={value} /> : <span>{fileName(value)}</span>)}
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

function PlaceInput({ id, value, set }: Props) {
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

function PlanInput({ e, id, value, set }: Props) {
  const spot = readPlanText(value);
  const at = (x: number, y: number): void => {
    const within = (n: number): number => Math.round(Math.min(1, Math.max(0, n)) * 1000) / 1000;
    set(`${within(x)},${within(y)}`);
  };
  const steps: Record<string, [number, number]> = {
    ArrowLeft: [-0.02, 0],
    ArrowRight: [0.02, 0],
    ArrowUp: [0, -0.02],
    ArrowDown: [0, 0.02],
  };
  return (
    <button
      id={id}
      type="button"
      className="k-plan"
      aria-label={
        spot
          ? `${e.label}: ${Math.round(spot.x * 100)} % across, ${Math.round(spot.y * 100)} % down. Arrow keys move it.`
          : `${e.label}: tap where it is`
      }
      onClick={(ev) => {
        if (ev.detail === 0) return; // pressed by a key
        const box = ev.currentTarget.getBoundingClientRect();
        at((ev.clientX - box.left) / box.width, (ev.clientY - box.top) / box.height);
      }}
      onKeyDown={(ev) => {
        const step = steps[ev.key];
        if (!step) return;
        ev.preventDefault();
        at((spot?.x ?? 0.5) + step[0], (spot?.y ?? 0.5) + step[1]);
      }}
    >
      <img src={e.plan!} alt="" draggable={false} />
      {spot && <span className="k-spot" aria-hidden style={{ left: `${spot.x * 100}%`, top: `${spot.y * 100}%` }} />}
    </button>
  );
}

interface Detector {
  detect(source: ImageBitmap): Promise<{ rawValue: string }[]>;
}

/** Finds a code in a photo: any kind the browser knows, or a QR code where it knows none. */
async function codeIn(photo: File): Promise<string | null> {
  const picture = await createImageBitmap(photo);
  const Native = (globalThis as { BarcodeDetector?: new () => Detector }).BarcodeDetector;
  if (Native) {
    const [found] = await new Native().detect(picture).catch(() => []);
    if (found) return found.rawValue;
  }
  const scale = Math.min(1, 1200 / Math.max(picture.width, picture.height));
  const canvas = document.createElement('canvas');
  canvas.width = Math.round(picture.width * scale);
  canvas.height = Math.round(picture.height * scale);
  const context = canvas.getContext('2d')!;
  context.drawImage(picture, 0, 0, canvas.width, canvas.height);
  const { data, width, height } = context.getImageData(0, 0, canvas.width, canvas.height);
  const { default: jsQR } = await import('jsqr');
  return jsQR(data, width, height)?.data ?? null;
}

/** A code, typed by hand or by a hand-held scanner, or read from a photo. */
function CodeInput({ id, value, set }: Props) {
  const [problem, setProblem] = useState('');
  const scan = async (photo: File | undefined): Promise<void> => {
    if (!photo) return;
    try {
      const code = await codeIn(photo);
      setProblem(code ? '' : 'No code is seen in this photo. Go closer, hold still, and try again.');
      if (code) set(code);
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

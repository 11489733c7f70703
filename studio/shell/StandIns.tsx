import { useEffect, useRef, useState, type ReactNode } from 'react';
import { toast } from 'sonner';
import type { App } from '../../core/app/schema.ts';
import type { PhoneApi } from '../../core/phone/api.ts';
import type { Answer, DeviceAsk } from '../../core/routines/asks.ts';
import type { KeptValue } from '../../core/records/kept-value.ts';
import { FileButton, OnDevice } from '../../player/Asked.tsx';
import { AskSheet } from '../../player/Questions.tsx';
import { blobOf } from '../../player/device.ts';
import { codeIn } from '../../player/scan.ts';
import { usePhone } from '../state/phone.ts';
import { useStudio } from '../state/studio.ts';
import { say } from '../state/trace.ts';

/** What a phone can do, as makers switch it off to see what happens without. */
export const ABILITIES: [ability: DeviceAsk['do'], name: string, missing: string][] = [
  ['picture', 'Camera and pictures', 'This phone has no camera.'],
  ['scan', 'Scanning codes', 'This phone cannot scan.'],
  ['place', 'Place', 'This phone does not know where it is.'],
  ['speak', 'Voice', 'This phone has no voice.'],
  ['sound', 'Sound', 'This phone plays no sound.'],
  ['record', 'Microphone', 'This phone has no microphone.'],
  ['buzz', 'Buzz', 'This phone cannot buzz.'],
  ['share', 'Sharing', 'This phone cannot share.'],
  ['copy', 'Clipboard', 'This phone does not let the app copy.'],
  ['notice', 'Notices', 'This phone shows no notices.'],
  ['awake', 'Staying awake', 'This phone cannot be kept awake.'],
];

/** What is done really in the studio too. */
const REAL = new Set<DeviceAsk['do']>(['sound', 'silence', 'save', 'make', 'caption', 'describe', 'copy']);

/**
 * Stands in for a phone beside the work, and says so: pictures, codes and places are picked from samples or the maker's
 * own; what only a phone does is told instead. What is switched off fails as on a phone without it.
 */
export function StandIns({
  what,
  answer,
  of,
}: {
  what: DeviceAsk;
  answer(given: Answer): void;
  /** Another phone than the one beside the work, and what it lacks. */
  of?: { api: PhoneApi; lacks: readonly string[] };
}): ReactNode {
  const beside = { lacks: usePhone((s) => s.lacks), api: useStudio((s) => s.phone) };
  const { lacks, api } = of ?? beside;
  const missing = lacks.includes(what.do) ? ABILITIES.find(([a]) => a === what.do)?.[2] : undefined;
  const quiet = !missing && !REAL.has(what.do) ? saidOf(what) : null;
  const done = useRef(false);
  useEffect(() => {
    if (done.current || (!missing && quiet === null)) return;
    done.current = true;
    if (missing) return answer({ ok: false, reason: missing });
    if (what.do === 'speak' && 'speechSynthesis' in globalThis)
      speechSynthesis.speak(new SpeechSynthesisUtterance(what.words));
    toast(`Stand-in for the phone: ${quiet}`);
    say({ said: `Stand-in: the phone ${quiet}`, tone: 'plain' });
    answer({ ok: true });
  }, [what, missing, quiet, answer]);
  if (missing || quiet !== null || !api) return null;
  if (what.do === 'picture') return <Pictures api={api} answer={answer} />;
  if (what.do === 'scan') return <Codes answer={answer} />;
  if (what.do === 'record') return <Sounds api={api} answer={answer} />;
  if (what.do === 'place') return <Places answer={answer} />;
  return <OnDevice what={what} api={api} answer={answer} />;
}

/** What a phone would do now; null for what is picked here. */
function saidOf(what: DeviceAsk): string | null {
  switch (what.do) {
    case 'speak':
      return `says “${what.words}”`;
    case 'buzz':
      return 'buzzes';
    case 'share':
      return `shares “${what.words || what.address || 'a file'}”`;
    case 'address':
      return `opens ${what.address}`;
    case 'notice':
      return `shows the notice “${what.title}”`;
    case 'awake':
      return what.on ? 'stays awake' : 'may sleep again';
    default:
      return null;
  }
}

const NOTE = 'A stand-in for the phone: choose what it gives.';
const value = (v: KeptValue): Answer => ({ ok: true, value: v });

/** Files of the app that stand for what a device gives; the one that is taken is kept as a device would keep it. */
function useSamples(api: PhoneApi, type: 'image/' | 'audio/', most: number, answer: (given: Answer) => void) {
  const app = useStudio((s) => s.shown);
  const samples = (app?.files ?? []).filter((f) => f.type.startsWith(type)).slice(0, most);
  const keep = async (content: Blob, name: string): Promise<void> => {
    try {
      answer(value(await api.keepFile(content, name)));
    } catch (e) {
      answer({ ok: false, reason: (e as Error).message });
    }
  };
  const keepSample = (f: App['files'][number]): void =>
    void blobOf(`data:${f.type};base64,${f.data}`, api).then((content) => keep(content, f.name));
  return { samples, keep, keepSample };
}

function Pictures({ api, answer }: { api: PhoneApi; answer(given: Answer): void }) {
  const none = (): void => answer({ ok: false, reason: 'No picture was taken.' });
  const { samples, keep, keepSample } = useSamples(api, 'image/', 12, answer);
  return (
    <AskSheet words="What the camera sees" onClose={none}>
      <p>{NOTE}</p>
      <div className="k-samples">
        {samples.map((f) => {
          const source = `data:${f.type};base64,${f.data}`;
          return (
            <button key={f.id} type="button" aria-label={f.name} onClick={() => keepSample(f)}>
              <img src={source} alt="" />
            </button>
          );
        })}
      </div>
      <FileButton label="A picture of your own" look="quiet" take={(file) => void keep(file, file.name)} />
      <button type="button" className="k-button" data-look="plain" onClick={none}>
        Take none
      </button>
    </AskSheet>
  );
}

/** Sounds of the app, or the maker's own, stand for what the microphone hears. */
function Sounds({ api, answer }: { api: PhoneApi; answer(given: Answer): void }) {
  const none = (): void => answer({ ok: false, reason: 'Nothing was recorded.' });
  const { samples, keep, keepSample } = useSamples(api, 'audio/', 6, answer);
  return (
    <AskSheet words="What the microphone hears" onClose={none}>
      <p>{NOTE}</p>
      {samples.map((f) => (
        <button key={f.id} type="button" className="k-button" data-look="quiet" onClick={() => keepSample(f)}>
          {f.name}
        </button>
      ))}
      <FileButton
        label="A sound of your own"
        look="quiet"
        accept="audio/*"
        take={(file) => void keep(file, file.name)}
      />
      <button type="button" className="k-button" data-look="plain" onClick={none}>
        Hear none
      </button>
    </AskSheet>
  );
}

/** A code is typed, or read from a picture. */
function Codes({ answer }: { answer(given: Answer): void }) {
  const [text, setText] = useState('KITE-4711');
  const [problem, setProblem] = useState('');
  const none = (): void => answer({ ok: false, reason: 'No code was read.' });
  const read = async (photo: File): Promise<void> => {
    const code = await codeIn(photo).catch(() => null);
    if (code) answer(value(code));
    else setProblem('No code is seen in this picture.');
  };
  return (
    <AskSheet words="What is scanned" onClose={none}>
      <p>{NOTE}</p>
      <form
        className="k-ask-form k-field"
        onSubmit={(e) => {
          e.preventDefault();
          if (text.trim()) answer(value(text.trim()));
        }}
      >
        <input type="text" aria-label="The code" value={text} onChange={(e) => setText(e.target.value)} />
        {problem && <p className="k-problem">{problem}</p>}
        <button type="submit" className="k-button" data-look="main">
          Scan this
        </button>
      </form>
      <FileButton label="A picture of a code" look="quiet" take={(file) => void read(file)} />
      <button type="button" className="k-button" data-look="plain" onClick={none}>
        See none
      </button>
    </AskSheet>
  );
}

const SAMPLES: [name: string, latitude: number, longitude: number][] = [
  ['In the north', 57.1497, -2.0943],
  ['On the equator', 0, 32.5],
  ['In the south', -41.2866, 174.7756],
];

function Places({ answer }: { answer(given: Answer): void }) {
  const none = (): void => answer({ ok: false, reason: 'The place was not found.' });
  return (
    <AskSheet words="Where the phone is" onClose={none}>
      <p>{NOTE}</p>
      {SAMPLES.map(([name, latitude, longitude]) => (
        <button
          key={name}
          type="button"
          className="k-button"
          data-look="quiet"
          onClick={() => answer(value({ context: { latitude, longitude } }))}
        >
          {name}
        </button>
      ))}
      <button type="button" className="k-button" data-look="plain" onClick={none}>
        Nowhere to be found
      </button>
    </AskSheet>
  );
}

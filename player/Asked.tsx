import { lazy, Suspense, useEffect, useId, useRef, useState, type ReactNode } from 'react';
import type { Answer, DeviceAsk } from '../core/routines/asks.ts';
import type { PhoneApi } from '../core/phone/api.ts';
import type { Asked } from '../core/session/effects.ts';
import type { StandIn } from './api.ts';
import { useBarred } from './context.ts';
import { perform } from './device.ts';
import { barredSaid } from './kept.ts';
import { AskSheet, failed, QuestionSheet } from './Questions.tsx';
import { codeIn } from './scan.ts';
import './over.css';

interface Props<A> {
  asked: A;
  api: PhoneApi;
  standIn: StandIn | undefined;
  answer(id: string, given: Answer): void;
}

/** Something a routine asks of the person or the device: shown where there is something to see, and answered. */
export default function AskedOf({ asked, ...rest }: Props<Asked>) {
  const { answer, standIn: Stand, api } = rest;
  const give = (given: Answer): void => answer(asked.id, given);
  if (asked.do === 'notice') return <NoticeCard notice={asked} api={api} answer={give} />;
  if (asked.do === 'ask') return <QuestionSheet question={asked.question} answer={give} />;
  if (Stand) return <Stand what={asked.what} answer={give} />;
  return <OnDevice what={asked.what} api={api} answer={give} />;
}

// Nobody misses the offer who cannot have it now.
const OfferTold = lazy(() =>
  import('./Told.tsx').then(
    (m) => ({ default: m.OfferTold }),
    () => ({ default: () => null }),
  ),
);

/** So long a notice stays, in milliseconds; it is put aside by itself then. */
const NOTICE_MS = 12_000;

/** A notice at the head of the screen: opened by a press, put aside by its cross or by time. */
function NoticeCard({
  notice: { title, words, stays },
  api,
  answer,
}: {
  notice: Extract<Asked, { do: 'notice' }>;
  api: PhoneApi;
  answer(given: Answer): void;
}) {
  const close = useRef(() => answer(failed('The notice was put aside.')));
  useEffect(() => {
    // Nobody looks at the app: the device tells them, where it may.
    if (document.hidden && globalThis.Notification?.permission === 'granted')
      void perform({ do: 'notice', title, words }, api).catch(() => undefined);
    if (stays) return undefined;
    const late = setTimeout(() => !document.hidden && close.current(), NOTICE_MS);
    return () => clearTimeout(late);
  }, [title, words, stays, api]);
  return (
    <div className="k-notice" role="status">
      <button type="button" className="k-notice-words" onClick={() => answer({ ok: true })}>
        <b>{title}</b>
        {words && <span>{words}</span>}
      </button>
      <Suspense fallback={null}>
        <OfferTold api={api} />
      </Suspense>
      <button
        type="button"
        className="k-notice-close"
        aria-label="Put the notice aside"
        onClick={() => close.current()}
      >
        <svg viewBox="0 0 18 18" width="18" height="18" aria-hidden>
          <path d="M4 4l10 10M14 4L4 14" stroke="currentColor" strokeWidth="1.8" strokeLinecap="round" />
        </svg>
      </button>
    </div>
  );
}

/** Records with the microphone until it is stopped, or so many seconds have gone. */
function RecordSheet({ most, api, answer }: { most: number; api: PhoneApi; answer(given: Answer): void }) {
  const [recorder, setRecorder] = useState<MediaRecorder | null>(null);
  const [seconds, setSeconds] = useState(0);
  const [problem, setProblem] = useState('');
  const none = (): void => answer(failed('Nothing was recorded.'));
  const begin = async (): Promise<void> => {
    try {
      const stream = await navigator.mediaDevices.getUserMedia({ audio: true });
      const made = new MediaRecorder(stream);
      const parts: Blob[] = [];
      made.addEventListener('dataavailable', (e) => parts.push(e.data));
      made.addEventListener('stop', () => {
        for (const t of stream.getTracks()) t.stop();
        const content = new Blob(parts, { type: made.mimeType });
        api.keepFile(content, `recording.${made.mimeType.includes('mp4') ? 'm4a' : 'webm'}`).then(
          (value) => answer({ ok: true, value }),
          (e: Error) => answer(failed(e.message)),
        );
      });
      made.start();
      setRecorder(made);
    } catch {
      setProblem('The microphone cannot be used. Allow it in the settings of this device.');
    }
  };
  useEffect(() => {
    if (!recorder) return undefined;
    const tick = setInterval(() => setSeconds((s) => s + 1), 1000);
    const end = setTimeout(() => recorder.stop(), most * 1000);
    return () => {
      clearInterval(tick);
      clearTimeout(end);
    };
  }, [recorder, most]);
  // The sheet goes away with the phone: the microphone is let go.
  useEffect(
    () => () => {
      for (const t of recorder?.stream.getTracks() ?? []) t.stop();
    },
    [recorder],
  );
  return (
    <AskSheet words={recorder ? `Recording: ${seconds} of ${most} seconds` : 'Record a sound'} onClose={none}>
      {problem && <p className="k-problem">{problem}</p>}
      {recorder ? (
        <button type="button" className="k-button" data-look="main" onClick={() => recorder.stop()}>
          Stop
        </button>
      ) : (
        <button type="button" className="k-button" data-look="main" onClick={() => void begin()}>
          Record
        </button>
      )}
      {!recorder && (
        <button type="button" className="k-button" data-look="plain" onClick={none}>
          Cancel
        </button>
      )}
    </AskSheet>
  );
}

/** What the device does by itself, or with the camera. */
export function OnDevice({
  what,
  api,
  answer,
}: {
  what: DeviceAsk;
  api: PhoneApi;
  answer(given: Answer): void;
}): ReactNode {
  const begun = useRef(false);
  const barred = useBarred(what.do === 'sound' ? what.source : '');
  useEffect(() => {
    if (begun.current || what.do === 'picture' || what.do === 'scan' || what.do === 'record') return;
    begun.current = true;
    Promise.resolve()
      .then(() => {
        if (barred) throw new Error(barredSaid(barred));
        return perform(what, api);
      })
      .then(
        (value) => answer(value === undefined ? { ok: true } : { ok: true, value }),
        (e: Error) => answer(failed(e.message)),
      );
  }, [what, api, answer, barred]);
  if (what.do === 'picture') return <PictureSheet from={what.from} api={api} answer={answer} />;
  if (what.do === 'scan') return <ScanSheet answer={answer} />;
  if (what.do === 'record') return <RecordSheet most={what.most} api={api} answer={answer} />;
  return null;
}

/** A button that opens the camera or the files of the device. */
export function FileButton({
  label,
  camera = false,
  look = 'main',
  accept = 'image/*',
  take,
}: {
  label: string;
  camera?: boolean;
  look?: 'main' | 'quiet';
  accept?: string;
  take(file: File): void;
}) {
  const id = useId();
  return (
    <>
      <label className="k-button" data-look={look} htmlFor={id}>
        {label}
      </label>
      <input
        id={id}
        type="file"
        className="k-hidden-file"
        accept={accept}
        {...(camera && { capture: 'environment' as const })}
        onChange={(e) => {
          const [file] = e.target.files ?? [];
          if (file) take(file);
        }}
      />
    </>
  );
}

function PictureSheet({
  from,
  api,
  answer,
}: {
  from: 'camera' | 'gallery' | 'any';
  api: PhoneApi;
  answer(given: Answer): void;
}) {
  const take = (file: File): void => {
    api.keepFile(file, file.name).then(
      (address) => answer({ ok: true, value: address }),
      (e: Error) => answer(failed(e.message)),
    );
  };
  const none = (): void => answer(failed('No picture was taken.'));
  return (
    <AskSheet words={from === 'gallery' ? 'Pick a picture' : 'Take a picture'} onClose={none}>
      {from !== 'gallery' && <FileButton label="Open the camera" camera take={take} />}
      {from !== 'camera' && <FileButton label="Pick a picture" look={from === 'any' ? 'quiet' : 'main'} take={take} />}
      <button type="button" className="k-button" data-look="plain" onClick={none}>
        Cancel
      </button>
    </AskSheet>
  );
}

/** How often the picture of the camera is looked at, in milliseconds. */
const LOOK_MS = 200;

/** Looks for a code in what the camera sees, or in a photo where there is no camera. */
function ScanSheet({ answer }: { answer(given: Answer): void }) {
  const video = useRef<HTMLVideoElement>(null);
  const [state, setState] = useState<'opening' | 'looking' | 'none'>('opening');
  const [problem, setProblem] = useState('');
  const none = (): void => answer(failed('No code was read.'));
  const found = useRef(answer);
  useEffect(() => {
    found.current = answer;
  });
  useEffect(() => {
    let stream: MediaStream | null = null;
    let over = false;
    const look = async (): Promise<void> => {
      if (over || !video.current) return;
      const code = video.current.videoWidth ? await codeIn(video.current).catch(() => null) : null;
      if (over) return;
      if (code) found.current({ ok: true, value: code });
      else setTimeout(() => void look(), LOOK_MS);
    };
    void (async () => {
      try {
        stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: 'environment' } });
        if (over || !video.current) {
          for (const t of stream.getTracks()) t.stop();
          return;
        }
        video.current.srcObject = stream;
        await video.current.play();
        setState('looking');
        void look();
      } catch {
        if (!over) setState('none');
      }
    })();
    return () => {
      over = true;
      for (const t of stream?.getTracks() ?? []) t.stop();
    };
  }, []);
  const read = async (photo: File): Promise<void> => {
    const code = await codeIn(photo).catch(() => null);
    if (code) answer({ ok: true, value: code });
    else setProblem('No code is seen in this photo. Go closer, hold still, and try again.');
  };
  return (
    <AskSheet words="Scan a code" onClose={none}>
      <video ref={video} className="k-camera" muted playsInline hidden={state === 'none'} />
      {state === 'none' && <p>There is no camera to look through here.</p>}
      {problem && (
        <p className="k-problem" role="alert">
          {problem}
        </p>
      )}
      <FileButton label="Read it from a photo" look="quiet" camera take={(photo) => void read(photo)} />
      <button type="button" className="k-button" data-look="plain" onClick={none}>
        Cancel
      </button>
    </AskSheet>
  );
}

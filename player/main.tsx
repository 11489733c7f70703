import { proxy, wrap, type Remote } from 'comlink';
import { lazy, Suspense, useEffect, useState } from 'react';
import { createRoot } from 'react-dom/client';
import type { OutsideRequest } from '../core/services/outside.ts';
import type { PhoneApi } from '../core/phone/api.ts';
import type { DeviceState, Frame } from './api.ts';
import type { Why } from './Failed.tsx';
import { Player } from './Player.tsx';
import { remotePhone, remoteWalk } from './remote.ts';
import type { WalkApi } from '../core/phone/walk.ts';
import { loadViews } from './views.ts';
import type { EngineEvent } from './engine-events.ts';
import type { Engine } from './worker.ts';
import './fonts.css';
import './released.css';

// How far a file is can go untold, where what tells it cannot be fetched.
const Sent = lazy(() => import('./Sent.tsx').catch(() => ({ default: () => null })));
const Failed = lazy(() => import('./Failed.tsx').catch(() => ({ default: () => <p>Offline</p> })));

const name = /^\/a\/([a-z0-9-]+)/.exec(location.pathname)?.[1] ?? '';
const engine = wrap<Engine>(new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' }));
const phone = engine.phone as unknown as Remote<PhoneApi> & { walk: Remote<WalkApi> };
const api = remotePhone(phone);
const walk = remoteWalk(phone.walk);
let listener: (e: Exclude<EngineEvent, { kind: 'needs' }>) => void = () => {};
const hear = (e: EngineEvent): void => {
  if (e.kind === 'needs') void loadViews(e.views).catch(() => undefined);
  else listener(e);
};
// Opening begins before React does; what happens meanwhile is in the answer.
const opening = engine.open(
  name,
  proxy(hear),
  proxy((asked: OutsideRequest) => import('./straight.ts').then((m) => m.straight(asked))),
);

// Somebody is back from the page where they signed in.
const signedIn = location.search.includes('state=') && import('./sign-in-page.ts');

/** The moment from which people see something, for whoever measures how long that took and what it needed. */
const markDrawn = (): void => {
  if (!performance.getEntriesByName('first drawn').length) performance.mark('first drawn');
};

function Released() {
  const [frame, setFrame] = useState<Frame | null>(null);
  const [state, setState] = useState<DeviceState | null>(null);
  const [notice, setNotice] = useState<{ words: string; key: number } | null>(null);
  const [failed, setFailed] = useState<Why | null>(null);
  const [dark, setDark] = useState(() => matchMedia('(prefers-color-scheme: dark)').matches);

  const say = (words: string): void => setNotice({ words, key: Date.now() });
  useEffect(() => {
    listener = (e) => {
      if (e.kind === 'state') setState(e.state);
      else if (e.kind === 'say') say(e.words);
      else if (e.kind !== 'frame') setFailed(e);
      else {
        // The page asks no more than it was opened for: its content policy is of that release.
        const { frame } = e;
        const within = (was: Frame): string[] | null =>
          frame.hosts?.filter((h) => was.hosts?.includes(h) ?? true) ?? was.hosts;
        setFrame((was) => (was ? { ...frame, hosts: within(was) } : frame));
        if (e.updated) setNotice({ words: 'Updated to the newest version', key: Date.now() });
      }
    };
    opening.then((f) => {
      setFrame(f);
      document.title = f.name;
    }, setFailed);
    if (globalThis.Notification?.permission === 'granted')
      void opening.then(async () => (await import('./closed.ts')).stillTold(api)).catch(() => undefined);
    if (signedIn) void opening.then(() => signedIn).then((m) => m.comeBack(api, say));
    // This stands as long as its page.
    const scheme = matchMedia('(prefers-color-scheme: dark)');
    scheme.addEventListener('change', () => setDark(scheme.matches));
    addEventListener('online', () => void engine.connect());
  }, []);

  if (failed)
    return (
      <Suspense fallback={null}>
        <Failed why={failed} app={name} engine={engine} />
      </Suspense>
    );
  if (!frame)
    return (
      <p className="r-opening" role="status">
        Opening
      </p>
    );
  const offline = state && !state.online;
  return (
    <div className="r-device">
      {offline && (
        <p className="r-offline" role="status">
          Offline
          {state.waiting
            ? `, ${state.waiting} ${state.waiting === 1 ? 'change waits' : 'changes wait'} to be sent`
            : ', what you do is kept'}
          {state.told && '. Some figures are of when you were last online'}
        </p>
      )}
      <Suspense fallback={null}>{state?.sending && <Sent {...state.sending} />}</Suspense>
      <div className="r-player">
        <Player api={api} walk={walk} frame={frame} dark={dark} inAddress notice={notice} onDrawn={markDrawn} />
      </div>
    </div>
  );
}

createRoot(document.getElementById('app')!).render(<Released />);

if ('serviceWorker' in navigator && isSecureContext) {
  addEventListener(
    'load',
    () => void navigator.serviceWorker.register(`/a/${name}/sw.js`, { scope: `/a/${name}/` }).catch(() => undefined),
  );
}

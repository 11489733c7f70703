import type { Remote } from 'comlink';
import type { EngineEvent } from './engine-events.ts';
import { begin } from './others.ts';
import SignIn from './SignIn.tsx';
import type { Engine } from './worker.ts';

/** Why an app is not shown: an error, or what its engine told. */
export type Why = Error | Extract<EngineEvent, { kind: 'moved' | 'sign in' }>;

/** What is shown in place of an app: why, the way on, or the way to sign in. */
export default function Failed({ why, app, engine }: { why: Why; app: string; engine: Remote<Engine> }) {
  if ('kind' in why && why.kind === 'moved')
    return (
      <div className="r-failed" role="alert">
        <p>{why.words}</p>
        <button type="button" className="k-button" data-look="main" onClick={() => location.reload()}>
          Open “{why.name}”
        </button>
      </div>
    );
  if ('kind' in why || why.name === 'SignInError')
    return (
      <SignIn
        app={app}
        name={document.title}
        waiting={'kind' in why ? why.waiting : 0}
        done={() =>
          void engine
            .signedIn(app)
            .then(() => begin(app))
            .finally(() => location.reload())
        }
      />
    );
  return (
    <p className="r-failed">
      {navigator.onLine ? why.message : 'The first time, this app needs a network. Connect, then open it again.'}
    </p>
  );
}

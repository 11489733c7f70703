import type { Remote } from 'comlink';
import SignIn from './SignIn.tsx';
import type { Engine } from './worker.ts';

/** What is shown in place of an app that does not open: why, or the way to sign in. */
export default function Failed({ why, app, engine }: { why: Error; app: string; engine: Remote<Engine> }) {
  if (why.name === 'SignInError')
    return (
      <SignIn
        app={app}
        name={document.title}
        waiting={Number(why.message) || 0}
        done={() => void engine.signedIn(app).finally(() => location.reload())}
      />
    );
  return (
    <p className="r-failed">
      {navigator.onLine ? why.message : 'The first time, this app needs a network. Connect, then open it again.'}
    </p>
  );
}

import { useEffect, useId, useState, type FormEvent, type ReactNode } from 'react';
import { asks } from './asks.ts';
import { signedInHere, switchTo, type Somebody } from './others.ts';
import { hasPasskeys, signInWithPasskey } from './passkeys.ts';
import './sign-in.css';

/** A token of an invitation, in the address behind `#`, which no server sees. */
const INVITED = /^#invited=([\w-]{20,100})$/;

/** Signing in to an app: an address, then the code that was sent there; or by an invitation. */
export default function SignIn({
  app,
  name,
  waiting,
  beside = false,
  done,
}: {
  /** The address of the app, and what it is called. */
  app: string;
  name: string;
  /** Changes that wait on this device to be sent by whoever wrote them. */
  waiting: number;
  /** Those who have signed in on this device stay so. */
  beside?: boolean;
  done(): void;
}) {
  const id = useId();
  const [mail, setMail] = useState('');
  const [code, setCode] = useState('');
  const [attempt, setAttempt] = useState<string | null>(null);
  const [problem, setProblem] = useState('');
  const [busy, setBusy] = useState(false);
  const invited = INVITED.exec(location.hash)?.[1];
  const doing = (work: () => Promise<void>) => async (e?: FormEvent) => {
    e?.preventDefault();
    if (busy) return;
    setBusy(true);
    setProblem('');
    await work().catch((error: Error) => setProblem(error.message));
    setBusy(false);
  };
  const ask = doing(async () => {
    setAttempt((await asks<{ attempt: string }>(app, '/sign-in', { mail: mail.trim() })).attempt);
    setCode('');
  });
  const confirm = doing(async () => {
    await asks(app, '/sign-in/code', { attempt, code, beside });
    done();
  });
  const byPasskey = doing(async () => {
    if (await signInWithPasskey(app, beside)) done();
  });
  const comeIn = doing(async () => {
    try {
      await asks(app, '/sign-in/invited', { token: invited, beside });
    } finally {
      history.replaceState(null, '', location.pathname);
    }
    done();
  });
  const [others, setOthers] = useState<Somebody[]>([]);
  useEffect(() => {
    if (!beside)
      void signedInHere(app).then(
        (s) => setOthers(s.others),
        () => undefined,
      );
  }, [app, beside]);
  useEffect(() => {
    document.getElementById(id)?.focus();
  }, [id, attempt]);
  return (
    <main className="r-sign-in">
      <img src={`/a/${app}/icon-192.png`} alt="" width={64} height={64} onError={(e) => e.currentTarget.remove()} />
      <h1>{name}</h1>
      {waiting > 0 && (
        <p className="r-sign-in-note">
          {waiting === 1 ? 'A change waits' : `${waiting} changes wait`} on this device. Sign in as before to send{' '}
          {waiting === 1 ? 'it' : 'them'}; for anybody else {waiting === 1 ? 'it is' : 'they are'} cleared away.
        </p>
      )}
      {invited && attempt === null && (
        <div className="r-sign-in-part">
          <p>You are invited.</p>
          <button type="button" className="r-main" disabled={busy} onClick={() => void comeIn()}>
            Come in
          </button>
          <p className="r-sign-in-soft">Or sign in with your address:</p>
        </div>
      )}
      {attempt === null ? (
        <form className="r-sign-in-part" onSubmit={(e) => void ask(e)}>
          <label htmlFor={id}>Your mail address</label>
          <input
            id={id}
            type="email"
            autoComplete="email"
            required
            maxLength={254}
            value={mail}
            onChange={(e) => setMail(e.target.value)}
          />
          <button type="submit" className={invited ? 'r-plain' : 'r-main'} disabled={busy}>
            {busy ? 'Sending' : 'Send me a code'}
          </button>
          {hasPasskeys() && (
            <button type="button" className="r-plain" disabled={busy} onClick={() => void byPasskey()}>
              Use a passkey
            </button>
          )}
        </form>
      ) : (
        <form className="r-sign-in-part" onSubmit={(e) => void confirm(e)}>
          <p>
            If <b>{mail.trim()}</b> may use this app, a code of six digits is on its way there. It is good for ten
            minutes.
          </p>
          <label htmlFor={id}>The code</label>
          <input
            id={id}
            inputMode="numeric"
            autoComplete="one-time-code"
            required
            maxLength={12}
            className="r-code"
            value={code}
            onChange={(e) => setCode(e.target.value)}
          />
          <button type="submit" className="r-main" disabled={busy}>
            {busy ? 'Signing in' : 'Sign in'}
          </button>
          <p className="r-sign-in-more">
            <Quiet onPress={() => void ask()}>Send a new code</Quiet>
            <Quiet onPress={() => setAttempt(null)}>Use another address</Quiet>
          </p>
        </form>
      )}
      {others.length > 0 && attempt === null && (
        <div className="r-sign-in-part">
          <p className="r-sign-in-soft">Or go on as somebody who has signed in here:</p>
          {others.map((o) => (
            <button
              key={o.person}
              type="button"
              className="r-plain"
              disabled={busy}
              onClick={() => void doing(() => switchTo(app, o.person))()}
            >
              {o.mail}
            </button>
          ))}
        </div>
      )}
      {problem && (
        <p className="r-sign-in-problem" role="alert">
          {problem}
        </p>
      )}
    </main>
  );
}

function Quiet({ onPress, children }: { onPress(): void; children: ReactNode }) {
  return (
    <button type="button" className="r-quiet" onClick={onPress}>
      {children}
    </button>
  );
}

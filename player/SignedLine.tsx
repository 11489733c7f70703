import { useState } from 'react';
import type { PhoneApi } from '../core/phone/api.ts';
import { EraseMe } from './EraseMe.tsx';
import { begin } from './others.ts';
import { Others } from './Others.tsx';
import { Sheet } from './Over.tsx';
import { Passkeys } from './Passkeys.tsx';
import SignIn from './SignIn.tsx';
import { SignedPlaces } from './SignedPlaces.tsx';
import { Told } from './Told.tsx';
import './over.css';

const app = /^\/a\/([a-z0-9-]+)/.exec(location.pathname)?.[1] ?? '';

/** Who has signed in, with the way out; or the way in, where the app is open to others too. */
export function SignedLine({ api, person }: { api: PhoneApi; person: string | null | undefined }) {
  const [asks, setAsks] = useState(false);
  const [problem, setProblem] = useState('');
  return (
    <>
      <p className="k-who">
        {person && <span title={person}>Signed in as {person}</span>}
        {person !== undefined && (
          <button type="button" onClick={() => setAsks(true)}>
            {person === null ? 'Sign in' : 'Sign out'}
          </button>
        )}
      </p>
      {asks && (
        <Sheet
          height={person === null ? 'full' : 'half'}
          label={person === null ? 'Sign in' : 'Sign out'}
          onClose={() => setAsks(false)}
        >
          {person === null ? (
            <SignIn
              app={app}
              name={document.title}
              waiting={0}
              done={() => void begin(app).finally(() => location.reload())}
            />
          ) : (
            <div className="k-who-list">
              <h2>Sign out?</h2>
              <p>What is kept for you leaves this device. What you wrote and what was not sent yet would be lost.</p>
              {problem && (
                <p className="k-problem" role="alert">
                  {problem}
                </p>
              )}
              <button
                type="button"
                className="k-button"
                data-look="main"
                onClick={() =>
                  void import('./sign-out.ts').then((m) => m.signOut()).catch((e: Error) => setProblem(e.message))
                }
              >
                Sign out
              </button>
              <Others app={app} />
              <Passkeys app={app} />
              <Told api={api} person={person!} />
              <SignedPlaces app={app} />
              <p>
                <a className="k-link" href={`/api/apps/${app}/mine`} download={`${app}.zip`}>
                  Save what is kept about you
                </a>
              </p>
              <EraseMe app={app} />
            </div>
          )}
        </Sheet>
      )}
    </>
  );
}

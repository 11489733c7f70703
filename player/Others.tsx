import { useEffect, useState } from 'react';
import { begin, signedInHere, switchTo, type Somebody } from './others.ts';
import SignIn from './SignIn.tsx';

/** Who else has signed in on this device, each with a way to go on as them; and the way in for one more. */
export function Others({ app }: { app: string }) {
  const [others, setOthers] = useState<Somebody[]>([]);
  const [adds, setAdds] = useState(false);
  const [problem, setProblem] = useState('');
  // Without a network nobody can take over.
  useEffect(
    () =>
      void signedInHere(app).then(
        (s) => setOthers(s.others),
        () => undefined,
      ),
    [app],
  );
  if (adds)
    return (
      <SignIn
        app={app}
        name={document.title}
        waiting={0}
        beside
        done={() => void begin(app).finally(() => location.replace(location.pathname))}
      />
    );
  return (
    <section aria-label="Others on this device">
      <h3>Others on this device</h3>
      {problem && (
        <p className="k-problem" role="alert">
          {problem}
        </p>
      )}
      <ul className="k-places">
        {others.map((o) => (
          <li key={o.person}>
            <span>{o.mail}</span>
            <button
              type="button"
              className="k-link"
              onClick={() => void switchTo(app, o.person).catch((e: Error) => setProblem(e.message))}
            >
              Go on as them
            </button>
          </li>
        ))}
      </ul>
      <p>
        <button type="button" className="k-link" onClick={() => setAdds(true)}>
          Somebody else uses this device too
        </button>
      </p>
    </section>
  );
}

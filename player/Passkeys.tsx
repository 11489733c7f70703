import { useEffect, useState } from 'react';
import { hasPasskeys, makePasskey, passkeysOf, removePasskey, type KeptPasskey } from './passkeys.ts';
import { deviceOf, seenAt } from './signed-in-on.ts';

/** The passkeys of the person using the app, with the way to make one on this device. */
export function Passkeys({ app }: { app: string }) {
  const [all, setAll] = useState<KeptPasskey[]>([]);
  const [problem, setProblem] = useState('');
  const load = async (): Promise<void> => setAll(await passkeysOf(app));
  const doing = (work: () => Promise<unknown>) => (): void => {
    setProblem('');
    work()
      .then(load)
      .catch((e: Error) => setProblem(e.message));
  };
  // Without a network there is nothing to see, and nothing is said of it here.
  useEffect(() => void passkeysOf(app).then(setAll, () => undefined), [app]);
  if (!hasPasskeys() && all.length === 0) return null;
  return (
    <section aria-label="Passkeys">
      <h3>Passkeys</h3>
      {all.length === 0 && <p>With a passkey this device signs you in by your finger, face or number.</p>}
      {problem && (
        <p className="k-problem" role="alert">
          {problem}
        </p>
      )}
      <ul className="k-places">
        {all.map((p) => (
          <li key={p.id}>
            <span>
              Made on {deviceOf(p.browser)}, last used {seenAt(p.used)}
            </span>
            <button type="button" className="k-link" onClick={doing(() => removePasskey(app, p.id))}>
              Remove
            </button>
          </li>
        ))}
      </ul>
      {hasPasskeys() && (
        <p>
          <button type="button" className="k-link" onClick={doing(() => makePasskey(app))}>
            Make a passkey on this device
          </button>
        </p>
      )}
    </section>
  );
}

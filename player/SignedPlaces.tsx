import { useEffect, useState } from 'react';
import { deviceOf, seenAt } from './signed-in-on.ts';

interface Place {
  id: string;
  seen: number;
  browser: string;
  isThis: boolean;
}

/** Where the person using the app is signed in besides here, each ended by a press. */
export function SignedPlaces({ app }: { app: string }) {
  const [places, setPlaces] = useState<Place[] | null>(null);
  const [problem, setProblem] = useState('');
  const path = `/api/apps/${app}/sessions`;
  const load = async (): Promise<void> => {
    const answer = await fetch(path, { headers: { accept: 'application/json' } }).catch(() => null);
    if (!answer?.ok) throw new Error('Where else you are signed in is seen with a network.');
    setPlaces(((await answer.json()) as { sessions: Place[] }).sessions.filter((s) => !s.isThis));
  };
  const doing = (work: () => Promise<void>) => (): void => {
    setProblem('');
    work().catch((e: Error) => setProblem(e.message));
  };
  const end = (id: string) =>
    doing(async () => {
      const answer = await fetch(`${path}/${id}`, { method: 'DELETE', headers: { accept: 'application/json' } });
      // One that has ended already is not there any more: that is what was wanted.
      if (!answer.ok && answer.status !== 404) throw new Error('That did not work. Try again.');
      await load();
    });
  useEffect(doing(load), [path]);
  return (
    <section aria-label="Where you are signed in">
      <h3>Signed in elsewhere</h3>
      {problem && (
        <p className="k-problem" role="alert">
          {problem}
        </p>
      )}
      {places?.length === 0 && <p>Nowhere but here.</p>}
      <ul className="k-places">
        {places?.map((s) => (
          <li key={s.id}>
            <span>
              On {deviceOf(s.browser)}, last seen {seenAt(s.seen)}
            </span>
            <button type="button" className="k-link" onClick={end(s.id)}>
              Sign out there
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

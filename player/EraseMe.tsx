import { useEffect, useState } from 'react';

interface Erasable {
  tables: { id: string; name: string; records: number; may: number }[];
}

/** Where a rule lets people remove their record: the way to erase themselves, with what goes and what stays. */
export function EraseMe({ app }: { app: string }) {
  const [would, setWould] = useState<Erasable | null>(null);
  const [asks, setAsks] = useState(false);
  const [problem, setProblem] = useState('');
  const path = `/api/apps/${app}/mine`;
  useEffect(() => {
    void fetch(`${path}/erasable`, { headers: { accept: 'application/json' } })
      .then(async (answer) => answer.ok && setWould((await answer.json()) as Erasable))
      .catch(() => undefined);
  }, [path]);
  if (!would) return null;
  const gone = would.tables.filter((t) => t.may > 0);
  const stay = would.tables.filter((t) => t.may < t.records);
  const erase = async (): Promise<void> => {
    setProblem('');
    const answer = await fetch(`${path}/erase`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', accept: 'application/json' },
      body: JSON.stringify({ tables: gone.map((t) => t.id) }),
    }).catch(() => null);
    if (!answer?.ok) throw new Error('That did not work. Try again with a network.');
    await (await import('./sign-out.ts')).clearDevice();
  };
  const counts = (of: Erasable['tables'], n: (t: Erasable['tables'][number]) => number): string =>
    of.map((t) => `${n(t)} of ${t.name}`).join(', ');
  if (!asks)
    return (
      <p>
        <button type="button" className="k-link" onClick={() => setAsks(true)}>
          Erase me from this app
        </button>
      </p>
    );
  return (
    <section aria-label="Erase me">
      <h3>Erase you from this app?</h3>
      <p>
        Your record goes for good{gone.length > 0 && `, with ${counts(gone, (t) => t.may)} of yours`}, and your address
        wherever it stands alone. It cannot be undone.
      </p>
      {stay.length > 0 && <p>{counts(stay, (t) => t.records - t.may)} stay, without saying whose they were.</p>}
      {problem && (
        <p className="k-problem" role="alert">
          {problem}
        </p>
      )}
      <button
        type="button"
        className="k-button"
        data-look="quiet"
        onClick={() => void erase().catch((e: Error) => setProblem(e.message))}
      >
        Erase me for good
      </button>
      <button type="button" className="k-button" data-look="plain" onClick={() => setAsks(false)}>
        Stay
      </button>
    </section>
  );
}

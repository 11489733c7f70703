import { useEffect, useState } from 'react';
import { asks } from './asks.ts';

interface Erasable {
  tables: { id: string; name: string; records: number; may: number }[];
}

/** Where a rule lets people remove their record: the way to erase themselves, with what goes and what stays. */
export function EraseMe({ app }: { app: string }) {
  const [would, setWould] = useState<Erasable | null>(null);
  const [isAsked, setAsked] = useState(false);
  const [problem, setProblem] = useState('');
  useEffect(() => {
    // Without a network, or where no rule lets them, there is nothing to offer.
    void asks<Erasable>(app, '/mine/erasable').then(setWould, () => undefined);
  }, [app]);
  if (!would) return null;
  const gone = would.tables.filter((t) => t.may > 0);
  const stay = would.tables.filter((t) => t.may < t.records);
  const erase = async (): Promise<void> => {
    setProblem('');
    await asks(app, '/mine/erase', { tables: gone.map((t) => t.id) });
    await (await import('./sign-out.ts')).clearDevice();
  };
  const counts = (of: Erasable['tables'], n: (t: Erasable['tables'][number]) => number): string =>
    of.map((t) => `${n(t)} of ${t.name}`).join(', ');
  if (!isAsked)
    return (
      <p>
        <button type="button" className="k-link" onClick={() => setAsked(true)}>
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
      <button type="button" className="k-button" data-look="plain" onClick={() => setAsked(false)}>
        Stay
      </button>
    </section>
  );
}

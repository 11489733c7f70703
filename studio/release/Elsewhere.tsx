import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Check, X } from 'lucide-react';
import { useState } from 'react';
import { hostOf } from '../../core/app/elsewhere.ts';
import type { AskedHost } from '../../core/app/asked-elsewhere.ts';
import { MOST_ELSEWHERE } from '../../core/document/limits.ts';
import { useRevisions } from '../state/revisions.ts';
import { useApp, useEngine, useStudio } from '../state/studio.ts';
import { Button, IconButton } from '../ui/controls.tsx';

/** How a host is told, as "example.org, in 3 records of Boats". */
const saidOf = ({ how, records, table }: AskedHost): string =>
  how === 'named'
    ? 'named in the app'
    : how === 'allowed'
      ? 'allowed'
      : `in ${records === 1 ? 'a record' : `${records.toLocaleString('en-GB')} records`} of ${table}; not shown`;

/** Records may name very many hosts; so many are listed. */
const MOST_LISTED = 12;

/** The hosts that the app asks, and those that its records would have it ask. */
export function useElsewhere(): AskedHost[] {
  const engine = useEngine();
  const revision = useRevisions((s) => s.revision);
  const { data } = useQuery({
    queryKey: ['elsewhere', revision],
    queryFn: () => engine.exporting.elsewhere(),
    placeholderData: keepPreviousData,
  });
  return data ?? [];
}

/** Where pictures, sounds and pages may come from, besides the app's own host. */
export function Elsewhere({ hosts }: { hosts: readonly AskedHost[] }) {
  const app = useApp();
  const edit = useStudio((s) => s.edit);
  const [typed, setTyped] = useState('');
  const [problem, setProblem] = useState('');
  const barred = hosts.filter((h) => h.how === 'barred');
  const listed = [...hosts.filter((h) => h.how !== 'barred'), ...barred.slice(0, MOST_LISTED)];
  const more = hosts.length - listed.length;
  const allow = (host: string): void => {
    if ((app.elsewhere ?? []).length >= MOST_ELSEWHERE)
      return setProblem(`At most ${MOST_ELSEWHERE} addresses can be allowed. Take one out first.`);
    setProblem('');
    void edit(`Allowed ${host}`, (a) => {
      a.elsewhere = [...new Set([...(a.elsewhere ?? []), host])];
    });
  };
  const bar = (host: string): void =>
    void edit(`Allowed ${host} no more`, (a) => {
      a.elsewhere = a.elsewhere?.filter((h) => h !== host);
      if (a.elsewhere?.length === 0) delete a.elsewhere;
    });
  const add = (): void => {
    const words = typed.trim();
    const host = words === '' ? null : hostOf(/^https?:/i.test(words) ? words : `https://${words}`);
    if (!host || !/^[\w.:[\]-]+$/.test(host)) return setProblem('Write an address such as example.org.');
    setTyped('');
    allow(host);
  };
  return (
    <section className="card scroll-mt-4 px-5 py-4" aria-label="Addresses elsewhere" id="elsewhere">
      <h2 className="text-[14px]">Addresses elsewhere</h2>
      <p className="mt-1 text-sm text-ink-soft">
        Pictures, sounds and pages come from other addresses only where the app names them itself or you allow them:
        whoever runs such an address learns that somebody looks.
      </p>
      {hosts.length > 0 && (
        <ul className="mt-2.5 divide-y divide-line border-y border-line">
          {listed.map((h) => (
            <li key={h.host} className="flex min-h-10 items-center gap-3 py-1">
              {/* The end of a host says whose it is: none of it is cut off. */}
              <span className="min-w-0 max-w-[55%] shrink-0 font-mono text-sm break-all">{h.host}</span>
              <span className="min-w-0 flex-1 truncate text-sm text-ink-soft">{saidOf(h)}</span>
              {h.how === 'barred' && (
                <Button small icon={Check} onClick={() => allow(h.host)} aria-label={`Allow ${h.host}`}>
                  Allow
                </Button>
              )}
              {h.how === 'allowed' && (
                <IconButton icon={X} label={`Allow ${h.host} no more`} onClick={() => bar(h.host)} />
              )}
            </li>
          ))}
        </ul>
      )}
      {more > 0 && (
        <p className="mt-1.5 text-sm text-ink-soft">
          And {more.toLocaleString('en-GB')} more that records name; they are not asked either.
        </p>
      )}
      <form
        className="mt-2.5 flex items-center gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          add();
        }}
      >
        <input
          aria-label="Address to allow"
          className="field !w-72 font-mono text-sm"
          placeholder="example.org"
          value={typed}
          onChange={(e) => setTyped(e.target.value)}
          aria-invalid={problem !== ''}
        />
        <Button small type="submit" disabled={typed.trim() === ''}>
          Allow it
        </Button>
        {problem && <span className="text-sm text-persimmon-deep">{problem}</span>}
      </form>
    </section>
  );
}

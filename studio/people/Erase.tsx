import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { tableOf } from '../../core/tables/names.ts';
import type { Erasable } from '../../core/released/erasing.ts';
import { ask } from '../../player/link.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { useRevisions } from '../state/revisions.ts';
import { useApp, useEngine, useHome, useStudio } from '../state/studio.ts';
import { askFirst } from '../ui/ask.tsx';
import { Button, Note } from '../ui/controls.tsx';

/** Erases somebody from the released app: what goes and what stays is said first, and what leads to them is chosen. */
export function Erase() {
  const app = useApp();
  const engine = useEngine();
  const home = useHome();
  const client = useQueryClient();
  const revision = useRevisions((s) => s.revision);
  const kept = useStudio((s) => s.kept);
  const [person, setPerson] = useState<string | null>(null);
  const [along, setAlong] = useState<ReadonlySet<string>>(new Set());
  const [said, setSaid] = useState('');
  const [problem, setProblem] = useState('');
  const [isBusy, setBusy] = useState(false);
  const name = kept?.released?.address;
  const key = kept?.ownerKey ?? '';
  const people = tableOf(app, app.people ?? '');
  const { data: all = [] } = useQuery({
    queryKey: ['people', home, app.people, revision],
    queryFn: () => (app.people ? engine.phone.choices(app.people, '') : []),
    placeholderData: keepPreviousData,
  });
  const { data: would, error } = useQuery({
    queryKey: ['erasable', name, person, revision],
    queryFn: () => ask<Erasable>(`/api/apps/${name}/people/${person}/erasable`, { key }),
    enabled: Boolean(name && person) && !isBusy,
    // Records may be on their way to the host still.
    refetchInterval: 5000,
    retry: false,
  });
  if (!name || !people) return null;
  const erase = async (): Promise<void> => {
    const sure = await askFirst({
      title: `Erase ${would!.name}?`,
      words: 'This cannot be undone: nothing of them is left that could be put back.',
      choices: [{ value: 'erase', label: 'Erase for good' }],
    });
    if (sure !== 'erase') return;
    setBusy(true);
    setProblem('');
    try {
      await ask(`/api/apps/${name}/people/${person}/erase`, { method: 'POST', json: { tables: [...along] }, key });
      setSaid(`${would!.name} is erased.`);
      setPerson(null);
      await client.invalidateQueries({ queryKey: ['arrivals', name] });
    } catch (e) {
      setProblem((e as Error).message);
    }
    setBusy(false);
  };
  const former = `a former ${people.one}`;
  return (
    <section className="card mt-4 px-5 py-4" aria-label="Erase somebody">
      <h2 className="mb-2 text-[15px]">Erase somebody</h2>
      <p className="sentence">
        Erase{' '}
        <ChoiceChip
          name="Whom you erase"
          value={person}
          empty={`choose a ${people.one}`}
          choices={all.map((p) => ({ value: p.id as string | null, label: p.title }))}
          onChange={(p) => {
            setPerson(p);
            setAlong(new Set());
            setSaid('');
            setProblem('');
          }}
        />{' '}
        from the released app.
      </p>
      {said && (
        <p role="status" className="mt-2 text-ink-soft">
          {said}
        </p>
      )}
      {(problem || (person && error)) && (
        <div className="mt-3">
          <Note tone="bad">{problem || (error as Error).message}</Note>
        </div>
      )}
      {person && would && (
        <>
          <ul className="mt-3 space-y-2">
            <li>
              Their record in {people.name} goes
              {would.mail && <>, and {would.mail} wherever it stands alone in a field</>}: from the records, their
              history, the files, the outbox, sessions and invitations, and from phones.
            </li>
            {would.tables.map((t) => (
              <li key={t.id} className="sentence">
                {t.records.toLocaleString('en-GB')} of {t.name} {t.records === 1 ? 'leads' : 'lead'} to them:{' '}
                <ChoiceChip
                  name={`What becomes of ${t.name}`}
                  value={along.has(t.id) ? 'go' : 'stay'}
                  choices={[
                    { value: 'stay', label: `they stay, and say “${former}”` },
                    { value: 'go', label: 'they are erased too' },
                  ]}
                  onChange={(v) => {
                    const next = new Set(along);
                    if (v === 'go') next.add(t.id);
                    else next.delete(t.id);
                    setAlong(next);
                  }}
                />
              </li>
            ))}
          </ul>
          <p className="mt-3 text-sm text-ink-soft">
            What stays: what others wrote about them in longer texts, mails that were sent, files and services that
            tables are kept in step with, and copies that you have saved. A phone without a network lets go of it at its
            next contact.
          </p>
          <div className="mt-3">
            <Button look="danger" disabled={isBusy} onClick={() => void erase()}>
              {isBusy ? 'Erasing…' : `Erase ${would.name}`}
            </Button>
          </div>
        </>
      )}
    </section>
  );
}

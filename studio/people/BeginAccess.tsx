import { useState } from 'react';
import { clsx } from 'clsx';
import { useNavigate } from 'react-router';
import { beginWithApproval, canNeedApproval } from '../../core/app/approval.ts';
import { beginAccess, mailField, type Beginning } from '../../core/app/access-edits.ts';
import { peopleTable } from '../../core/app/people.ts';
import type { App } from '../../core/app/schema.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { useApp, useEdit, useHome } from '../state/studio.ts';
import { Button, Note } from '../ui/controls.tsx';

type Way = Beginning | 'approval';
const WAYS: [Way, string, string][] = [
  [
    'own',
    'Everyone sees, own ones are changed',
    'All records are seen by everyone who signs in; those that are theirs they add, change and remove.',
  ],
  [
    'only own',
    'Each only their own',
    'People see and change the records that are theirs. What belongs to nobody they see.',
  ],
  ['read', 'Read only', 'Everyone who signs in sees everything, and changes nothing.'],
  ['open', 'Open to all who sign in', 'Everyone who signs in sees and changes everything.'],
  [
    'approval',
    'Needs approval',
    'What people add waits until somebody who may approve accepts it, or sends it back with words. Theirs counts at once.',
  ],
];

/** An app that is open to whoever has its link, and where to begin with rules. */
export function BeginAccess() {
  const app = useApp();
  const edit = useEdit();
  const navigate = useNavigate();
  const home = useHome();
  const [way, setWay] = useState<Way>('own');
  const [approved, setApproved] = useState<string | null>(null);
  const table = peopleTable(app);
  const mail = mailField(table ?? undefined);
  const canNeed = table ? canNeedApproval({ ...app, people: table.id } as App).map((t) => t.table) : [];
  const chosen = canNeed.find((t) => t.id === approved) ?? canNeed[0];
  const begin = (a: App): void => {
    if (way !== 'approval') beginAccess(a, way);
    else if (chosen) beginWithApproval(a, chosen.id);
  };
  return (
    <>
      <h1 className="mb-1 text-xl">Who may open it</h1>
      <p className="mb-4 max-w-[640px] text-md text-ink-soft">
        Anybody who has the link sees and changes every record. Once people sign in, you say in sentences who sees and
        changes what, and nothing else leaves the server.
      </p>
      <section className="card mb-3.5 px-5 py-4" aria-label="Where to begin">
        <p className="sentence mb-3">
          The people are the records of{' '}
          <ChoiceChip
            name="Table of people"
            tone="data"
            value={table?.id ?? null}
            empty="choose a table"
            choices={app.tables.filter((t) => !t.facts && !t.fetched).map((t) => ({ value: t.id, label: t.name }))}
            onChange={(id) => void edit('Chose the table of people', (a) => void (a.people = id))}
          />
          {mail ? (
            <>
              , known by their <b className="font-semibold text-ink">{mail.name}</b>.
            </>
          ) : (
            '.'
          )}
        </p>
        {!mail && (
          <div className="mb-3">
            <Note>
              {table
                ? `${table.name} have no field for a mail address, by which people sign in. Add one in Data.`
                : 'Signing in needs a table of people with their mail addresses. Add one in Data.'}
            </Note>
          </div>
        )}
        <div role="radiogroup" aria-label="Where to begin" className="grid grid-cols-2 gap-2.5">
          {WAYS.map(([id, name, words]) => (
            <button
              key={id}
              type="button"
              role="radio"
              aria-checked={id === way}
              onClick={() => setWay(id)}
              className={clsx(
                'flex flex-col items-start rounded-lg border px-3.5 py-3 text-left last:col-span-2',
                id === way ? 'border-kelp bg-kelp-wash' : 'border-line-strong bg-raised hover:bg-sunk',
              )}
            >
              <span className="block font-semibold">{name}</span>
              <span className="mt-0.5 block text-sm text-ink-soft">{words}</span>
            </button>
          ))}
        </div>
        {way === 'approval' && mail && (
          <p className="sentence mt-3">
            {chosen ? (
              <>
                Records of{' '}
                <ChoiceChip
                  name="Table that needs approval"
                  tone="data"
                  value={chosen.id}
                  choices={canNeed.map((t) => ({ value: t.id, label: t.name }))}
                  onChange={setApproved}
                />{' '}
                need approval. Who approves is said by <b className="font-semibold text-ink">Approves</b>, a yes or no
                that is added to {table!.name}.
              </>
            ) : (
              `No table has a link to ${table!.name} that says whose a record is. Add one in Data.`
            )}
          </p>
        )}
        <Button
          look="main"
          className="mt-4"
          disabled={!mail || (way === 'approval' && !chosen)}
          onClick={() =>
            void edit('People sign in, by rules', (a) => begin(a as App)).then(() => navigate(`${home}/people/rules`))
          }
        >
          Begin with this
        </Button>
      </section>
    </>
  );
}

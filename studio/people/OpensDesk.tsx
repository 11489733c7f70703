import { useNavigate } from 'react-router';
import type { AppAccess } from '../../core/app/access-schema.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { useApp, useEdit, useHome } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';
import { Arrivals } from './Arrivals.tsx';
import { Domains } from './Domains.tsx';
import { Erase } from './Erase.tsx';

const NOTHING = '';
/** After how many days phones are cleared that have no contact, to choose from; 0 is never. */
const CLEARS = [0, 1, 3, 7, 14, 30, 90];
const clearsSaid = (days: number): string => (days === 0 ? 'never' : days === 1 ? 'after a day' : `after ${days} days`);

/** Who may open the app, and by what they are known. */
export function OpensDesk({ access }: { access: AppAccess }) {
  const app = useApp();
  const edit = useEdit();
  const home = useHome();
  const navigate = useNavigate();
  const people = app.tables.find((t) => t.id === app.people);
  const change = (label: string, recipe: (x: AppAccess) => void): void =>
    void edit(label, (a) => recipe(a.access as AppAccess));
  const yesNo = people?.fields.filter((f) => f.type === 'yesno') ?? [];
  return (
    <>
      <h1 className="mb-4 text-xl">Who may open it</h1>
      <section className="card sentence mb-3.5 px-5 py-3.5" aria-label="Who may open it">
        <p>
          <ChoiceChip
            name="Who may open it"
            value={access.opens}
            choices={[
              { value: 'people' as const, label: 'Only the people in the table' },
              { value: 'signed in' as const, label: 'Whoever signs in' },
              { value: 'anybody' as const, label: 'Anybody with the link' },
            ]}
            onChange={(opens) => change('Changed who may open the app', (x) => void (x.opens = opens))}
          />{' '}
          may open this app.{' '}
          {access.opens === 'signed in' && 'Whoever signs in for the first time becomes a record there.'}
          {access.opens === 'anybody' && 'Rules for anybody hold without signing in; people may sign in for more.'}
        </p>
        <p>
          The people are the records of{' '}
          <ChoiceChip
            name="Table of people"
            tone="data"
            value={people?.id ?? null}
            empty="choose a table"
            choices={app.tables.filter((t) => !t.facts && !t.fetched).map((t) => ({ value: t.id, label: t.name }))}
            onChange={(id) =>
              void edit('Chose another table of people', (a) => {
                a.people = id;
                const mail = a.tables.find((t) => t.id === id)?.fields.find((f) => f.type === 'mail');
                delete a.access!.approved;
                if (mail) a.access!.mail = mail.id;
                else delete a.access!.mail;
              })
            }
          />
          , known by their{' '}
          <ChoiceChip
            name="Field with the mail address"
            tone="data"
            value={access.mail ?? null}
            empty="choose a field"
            choices={(people?.fields ?? [])
              .filter((f) => f.type === 'mail')
              .map((f) => ({ value: f.id, label: f.name }))}
            onChange={(id) => change('Chose another mail address', (x) => void (x.mail = id))}
          />
          . They get a code there, or you send them an invitation.
        </p>
        {access.opens === 'people' && (
          <Domains
            domains={access.domains ?? []}
            onChange={(domains) =>
              change('Changed whose addresses may sign in', (x) => {
                if (domains) x.domains = domains;
                else delete x.domains;
              })
            }
          />
        )}
        <p>
          Who has signed in can use it{' '}
          <ChoiceChip
            name="When they can use it"
            value={access.approved ?? NOTHING}
            choices={[
              { value: NOTHING, label: 'at once' },
              ...yesNo.map((f) => ({ value: f.id, label: `when ${f.name} says yes` })),
            ]}
            onChange={(id) =>
              change('Changed when people can use the app', (x) => {
                if (id === NOTHING) delete x.approved;
                else x.approved = id;
              })
            }
          />
          .
        </p>
        <p>
          A phone without contact lets go of its records{' '}
          <ChoiceChip
            name="When phones without contact are cleared"
            value={access.clears ?? 0}
            choices={[...new Set([...CLEARS, access.clears ?? 0])]
              .sort((a, b) => a - b)
              .map((days) => ({ value: days, label: clearsSaid(days) }))}
            onChange={(days) =>
              change('Changed when phones without contact are cleared', (x) => {
                if (days) x.clears = days;
                else delete x.clears;
              })
            }
          />
          .{access.clears !== undefined && ' What waits on it to be sent stays.'}
        </p>
      </section>
      <Arrivals />
      <Erase />
      <section className="card mt-3.5 flex items-center gap-4 px-5 py-3.5" aria-label="Without rules">
        <p className="min-w-0 flex-1 text-ink-soft">
          Without rules anybody who has the link sees and changes every record, as before.
        </p>
        <Button
          look="quiet"
          onClick={() =>
            void edit('The app is open to all who have its link', (a) => {
              delete a.access;
              for (const s of a.screens) delete s.roles;
            }).then(() => navigate(`${home}/people`))
          }
        >
          Take all rules away
        </Button>
      </section>
    </>
  );
}

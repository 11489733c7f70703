import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import { UserRound } from 'lucide-react';
import { useEffect } from 'react';
import { ChoiceChip, ChoiceList } from '../chips/ChoiceChip.tsx';
import { peopleTable } from '../../core/app/people.ts';
import { useRevisions } from '../state/revisions.ts';
import { useApp, useEngine, useHome, useStudio } from '../state/studio.ts';
import { say } from '../state/trace.ts';
import { Button } from '../ui/controls.tsx';
import { Popover } from '../ui/popover.tsx';
import { WhyNotHere } from './WhyNotHere.tsx';

/**
 * Who is using the phone: the maker sees the app as each of their people does. Where the app has rules, the phone has the
 * records that a host would send them, and no others.
 */
export function PersonButton() {
  const app = useApp();
  const engine = useEngine();
  const edit = useStudio((s) => s.edit);
  const persona = useStudio((s) => s.persona);
  const beAs = useStudio((s) => s.be);
  const home = useHome();
  const client = useQueryClient();
  const key = ['person', home];
  const { data: known } = useQuery({ queryKey: key, queryFn: () => engine.phone.person() });
  const person = persona?.title ?? known;
  const table = peopleTable(app);
  const hasRules = app.access !== undefined;

  const be = async (name: string | null, record: string | null): Promise<void> => {
    const asThem = hasRules && name !== null && record !== null;
    await engine.phone.beUsedBy(asThem ? null : name, record && table && !asThem ? { table: table.id, record } : null);
    await beAs(asThem ? { id: record, title: name } : null);
    await client.invalidateQueries({ queryKey: key });
    say({ said: name ? `The phone is used by ${name}` : 'The phone is used by nobody known', tone: 'plain' });
  };
  // Without rules nobody gets less than all.
  useEffect(() => {
    if (!hasRules && persona) void beAs(null);
  }, [hasRules, persona, beAs]);
  return (
    <Popover
      align="end"
      width={300}
      trigger={
        <Button small icon={UserRound} aria-label={person ? `Used by ${person}` : 'Who is using the phone'}>
          {person && <span className="max-w-16 truncate max-[1150px]:hidden">{person}</span>}
        </Button>
      }
    >
      {(close) => (
        <>
          <h2 className="px-3.5 pt-3 text-[15px]">Who is using the phone?</h2>
          <p className="px-3.5 pt-1 pb-1.5 text-ink-soft">
            People are in{' '}
            <ChoiceChip
              name="Table of people"
              tone="data"
              value={table?.id ?? null}
              empty="choose a table"
              choices={app.tables.filter((t) => !t.facts).map((t) => ({ value: t.id, label: t.name }))}
              onChange={(id) => void edit('Chose the table of people', (a) => void (a.people = id))}
            />
            .
          </p>
          {persona && <NotHere person={persona} onClose={close} />}
          <People
            table={table?.id}
            now={person ?? null}
            none={hasRules ? 'nobody: all records' : 'nobody known'}
            onChoose={(name, record) => {
              close();
              void be(name, record);
            }}
          />
        </>
      )}
    </Popover>
  );
}

/** Why something is not on the phone beside the work, as one of the people. */
function NotHere({ person, onClose }: { person: { id: string; title: string }; onClose(): void }) {
  const app = useApp();
  const engine = useEngine();
  const home = useHome();
  const revision = useRevisions((s) => s.revision);
  const { data } = useQuery({
    queryKey: ['sees', home, person.id, app, revision],
    queryFn: () => engine.seeing.whatSee([person.id]),
    placeholderData: keepPreviousData,
  });
  return data ? (
    <div className="mx-3.5 mb-2">
      <WhyNotHere app={app} data={data} person={person} onClose={onClose} />
    </div>
  ) : null;
}

function People({
  table,
  now,
  none,
  onChoose,
}: {
  table: string | undefined;
  now: string | null;
  none: string;
  onChoose(name: string | null, record: string | null): void;
}) {
  const engine = useEngine();
  const home = useHome();
  const revision = useRevisions((s) => s.revision);
  const { data: people = [] } = useQuery({
    queryKey: ['people', home, table, revision],
    queryFn: () => (table ? engine.phone.choices(table, '') : []),
    placeholderData: keepPreviousData,
  });
  return (
    <ChoiceList
      placeholder="Search people"
      choices={[
        { value: null as string | null, label: none, hint: now ? '' : 'now' },
        ...people.map((x) => ({ value: x.id as string | null, label: x.title, hint: x.title === now ? 'now' : '' })),
      ]}
      onChoose={(id) => onChoose(people.find((x) => x.id === id)?.title ?? null, id)}
    />
  );
}

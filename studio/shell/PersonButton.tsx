import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import { UserRound } from 'lucide-react';
import { ChoiceChip, ChoiceList } from '../chips/ChoiceChip.tsx';
import { peopleTable } from '../../core/app/people.ts';
import { useRevisions } from '../state/revisions.ts';
import { useApp, useEngine, useHome, useStudio } from '../state/studio.ts';
import { say } from '../state/trace.ts';
import { Button } from '../ui/controls.tsx';
import { Popover } from '../ui/popover.tsx';

/** Who is using the phone: the maker sees the app as each of their people does. */
export function PersonButton() {
  const app = useApp();
  const engine = useEngine();
  const edit = useStudio((s) => s.edit);
  const home = useHome();
  const client = useQueryClient();
  const key = ['person', home];
  const { data: person } = useQuery({ queryKey: key, queryFn: () => engine.phone.person() });
  const table = peopleTable(app);

  const be = async (name: string | null, record: string | null): Promise<void> => {
    await engine.phone.beUsedBy(name, record && table ? { table: table.id, record } : null);
    await client.invalidateQueries({ queryKey: key });
    say({ said: name ? `The phone is used by ${name}` : 'The phone is used by nobody known', tone: 'plain' });
  };
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
          <People
            table={table?.id}
            now={person ?? null}
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

function People({
  table,
  now,
  onChoose,
}: {
  table: string | undefined;
  now: string | null;
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
        { value: null as string | null, label: 'nobody known', hint: now ? '' : 'now' },
        ...people.map((x) => ({ value: x.id as string | null, label: x.title, hint: x.title === now ? 'now' : '' })),
      ]}
      onChoose={(id) => onChoose(people.find((x) => x.id === id)?.title ?? null, id)}
    />
  );
}

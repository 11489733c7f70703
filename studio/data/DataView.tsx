import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { BookText, Plus, Table2, Waypoints } from 'lucide-react';
import { useNavigate, useParams } from 'react-router';
import { addFacts } from '../../core/app/edits.ts';
import { Index, IndexGroup, IndexItem } from '../shell/Index.tsx';
import { useApp, useEngine, useHome, useStudio } from '../state/studio.ts';
import { useRevisions } from '../state/revisions.ts';
import { Button, Empty } from '../ui/controls.tsx';
import { Diagram } from './Diagram.tsx';
import { FactsDesk } from './FactsDesk.tsx';
import { NewTables } from './NewTables.tsx';
import { TableDesk } from './TableDesk.tsx';

const number = (n: number): string => n.toLocaleString('en-GB');

/** The Data workspace: the tables, and the records of one of them. */
export function DataView() {
  const app = useApp();
  const engine = useEngine();
  const edit = useStudio((s) => s.edit);
  const revision = useRevisions((s) => s.revision);
  const home = useHome();
  const navigate = useNavigate();
  const { thing } = useParams();
  const facts = app.tables.find((t) => t.facts);
  const tables = app.tables.filter((t) => !t.facts);
  const table = app.tables.find((t) => t.id === thing) ?? tables[0] ?? facts;
  const { data: counts = {} } = useQuery({
    queryKey: ['counts', home, revision],
    queryFn: () => engine.looking.counts(),
    placeholderData: keepPreviousData,
  });
  const to = (id: string): string => `${home}/data/${id}`;

  const add = (): void => void navigate(to('new'));
  return (
    <>
      <Index label="Tables">
        <IndexGroup title="Tables" onAdd={add} addLabel="Add a table">
          {tables.map((t) => (
            <IndexItem
              key={t.id}
              to={to(t.id)}
              icon={Table2}
              name={t.name}
              hint={number(counts[t.id] ?? 0)}
              selected={thing !== 'links' && thing !== 'new' && t.id === table?.id}
            />
          ))}
        </IndexGroup>
        <IndexGroup title="Everywhere">
          <IndexItem
            to={facts ? to(facts.id) : to('facts')}
            icon={BookText}
            name={facts?.name ?? 'App facts'}
            {...(facts && { hint: number(facts.fields.length) })}
            selected={thing === 'facts' || (facts !== undefined && thing === facts.id)}
          />
          {tables.length > 1 && (
            <IndexItem to={to('links')} icon={Waypoints} name="How tables relate" selected={thing === 'links'} />
          )}
        </IndexGroup>
      </Index>
      <main className="flex min-w-0 flex-1 flex-col">
        {thing === 'links' ? (
          <Diagram />
        ) : thing === 'facts' && !facts ? (
          <Empty
            title="No app facts yet"
            words="App facts are words and figures that are used in many places, such as what points are called or when the season ends. Change one, and it changes everywhere."
          >
            <Button
              look="main"
              icon={Plus}
              onClick={() => {
                let id = '';
                void edit('Added app facts', (a) => {
                  id = addFacts(a).id;
                }).then(() => navigate(to(id)));
              }}
            >
              Add app facts
            </Button>
          </Empty>
        ) : thing === 'new' || !table ? (
          <NewTables />
        ) : table.facts ? (
          <FactsDesk key={table.id} table={table} />
        ) : (
          <TableDesk key={table.id} table={table} />
        )}
      </main>
    </>
  );
}

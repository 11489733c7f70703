import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Download, MoreHorizontal, Plus, Smartphone, Table2, Trash2, Upload, Waypoints } from 'lucide-react';
import { useEffect, useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { addField, addScreensFor, addTable, removeTable, renameTable } from '../../core/app/edits.ts';
import { freeName } from '../../core/app/names.ts';
import { idsOfTable, usesInWords, usesOf } from '../../core/app/uses.ts';
import type { Table } from '../../core/app/schema.ts';
import { newRecordId } from '../../core/host/device.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { Index, IndexGroup, IndexItem } from '../shell/Index.tsx';
import { download } from '../state/keep.ts';
import { useApp, useEngine, useStudio } from '../state/studio.ts';
import { Button, Empty } from '../ui/controls.tsx';
import { NameField } from '../ui/NameField.tsx';
import { Menu, Popover } from '../ui/popover.tsx';
import { chooseFiles } from '../ui/files.ts';
import { Diagram } from './Diagram.tsx';
import { BringInto } from './BringInto.tsx';
import { FieldCard } from './FieldCard.tsx';
import { Grid } from './Grid.tsx';
import { RecordPage } from './RecordPage.tsx';

const number = (n: number): string => n.toLocaleString('en-GB');

/** The Data workspace: the tables, and the records of one of them. */
export function DataView() {
  const app = useApp();
  const engine = useEngine();
  const { edit, revision, kept } = useStudio();
  const navigate = useNavigate();
  const { thing } = useParams();
  const table = app.tables.find((t) => t.id === thing) ?? app.tables[0];
  const { data: counts = {} } = useQuery({
    queryKey: ['counts', kept?.id, revision],
    queryFn: () => engine.counts(),
    placeholderData: keepPreviousData,
  });
  const to = (id: string): string => `/app/${kept!.id}/data/${id}`;

  const add = (): void => {
    const name = freeName(
      'New table',
      app.tables.map((t) => t.name),
    );
    let id = '';
    void edit(`Added the table ${name}`, (a) => {
      id = addTable(a, name).id;
    }).then(() => navigate(to(id)));
  };
  return (
    <>
      <Index label="Tables">
        <IndexGroup title="Tables" onAdd={add} addLabel="Add a table">
          {app.tables.map((t) => (
            <IndexItem
              key={t.id}
              to={to(t.id)}
              icon={Table2}
              name={t.name}
              hint={number(counts[t.id] ?? 0)}
              selected={thing !== 'links' && t.id === table?.id}
            />
          ))}
        </IndexGroup>
        {app.tables.length > 1 && (
          <IndexGroup title="Everywhere">
            <IndexItem to={to('links')} icon={Waypoints} name="How tables relate" selected={thing === 'links'} />
          </IndexGroup>
        )}
      </Index>
      <main className="flex min-w-0 flex-1 flex-col">
        {thing === 'links' ? (
          <Diagram />
        ) : table ? (
          <TableDesk key={table.id} table={table} count={counts[table.id] ?? 0} />
        ) : (
          <Empty
            title="No table yet"
            words="A table holds what the app is about: hives, members, bookings. Each record is one of them."
          >
            <Button look="main" icon={Plus} onClick={add}>
              Add a table
            </Button>
          </Empty>
        )}
      </main>
    </>
  );
}

function TableDesk({ table, count }: { table: Table; count: number }) {
  const app = useApp();
  const engine = useEngine();
  const { edit, editRecords, kept } = useStudio();
  const navigate = useNavigate();
  const { part } = useParams();
  const [params, setParams] = useSearchParams();
  const record = params.get('record');
  const openRecord = (to: string, id: string): void => void navigate(`/app/${kept!.id}/data/${to}?record=${id}`);
  const [search, setSearch] = useState('');
  const [order, setOrder] = useState<{ by: string; descending: boolean } | null>(null);
  const [bringing, setBringing] = useState<File | null>(null);
  const [added, setAdded] = useState<string | null>(null);
  const field = table.fields.find((f) => f.id === part);
  const select = (id: string | null): void =>
    void navigate(`/app/${kept!.id}/data/${table.id}${id ? `/${id}` : ''}`, { replace: true });
  useEffect(() => {
    if (order && !table.fields.some((f) => f.id === order.by)) setOrder(null);
  }, [order, table.fields]);

  const addRecord = (): void => {
    const id = newRecordId();
    setAdded(id);
    void editRecords(`Added a ${table.one}`, [{ do: 'set', table: table.id, record: id, cells: {} }]);
  };
  const newField = (type: 'text' | 'formula'): void => {
    let id = '';
    void edit(`Added a ${type === 'formula' ? 'formula field' : 'field'} to ${table.name}`, (a) => {
      id = addField(a, table.id, type, type === 'formula' ? 'New formula' : 'New field').id;
    }).then(() => select(id));
  };
  const remove = (): void => {
    const uses = usesOf(app, idsOfTable(app, table.id)).filter((u) => u.table !== table.id);
    void edit(`Removed the table ${table.name}`, (a) => removeTable(a, table.id));
    toast(`Removed ${table.name}.${uses.length ? ` It was used by ${usesInWords(uses)}.` : ''}`, {
      action: { label: 'Undo', onClick: () => void useStudio.getState().undo() },
      duration: 8000,
    });
    void navigate(`/app/${kept!.id}/data`);
  };
  const makeScreens = (): void => {
    let first = '';
    void edit(`Made screens for ${table.name}`, (a) => {
      first = addScreensFor(a, table.id)[0]?.id ?? '';
    }).then(() => navigate(`/app/${kept!.id}/screens/${first}`));
  };
  const hasScreens = app.screens.some((s) => s.given === table.id);
  const fields = table.fields.map((f) => ({ value: f.id, label: f.name }));

  return (
    <>
      <header className="flex items-center gap-3 px-6 pt-5">
        <h1 className="max-w-[60%] shrink-0 text-xl">
          <NameField
            value={table.name}
            label="Name of the table"
            onChange={(n) => void edit(`Renamed ${table.name} to ${n}`, (a) => renameTable(a, table.id, n))}
            className="truncate"
          />
        </h1>
        <span className="min-w-0 flex-1 truncate text-ink-soft">
          {number(count)} {count === 1 ? 'record' : 'records'}
        </span>
        <Menu
          align="end"
          trigger={<Button aria-label="More for this table" icon={MoreHorizontal} />}
          items={[
            {
              label: 'Export as CSV',
              icon: Download,
              run: () => void engine.exportCsv(table.id).then((t) => download(`${table.name}.csv`, t, 'text/csv')),
            },
            {
              label: 'Export as XLSX',
              icon: Download,
              run: () =>
                void engine
                  .exportXlsx(table.id)
                  .then((b) =>
                    download(
                      `${table.name}.xlsx`,
                      b as BlobPart,
                      'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
                    ),
                  ),
            },
            null,
            {
              label: hasScreens ? 'Make more screens for it' : 'Make screens for it',
              icon: Smartphone,
              run: makeScreens,
            },
            { label: 'Remove this table', icon: Trash2, danger: true, run: remove },
          ]}
        />
        <Button
          icon={Upload}
          aria-label="Bring in a file"
          onClick={() => void chooseFiles('.csv,.tsv,.txt,.xlsx', false).then(([f]) => f && setBringing(f))}
        >
          Bring in
        </Button>
        <Menu
          align="end"
          trigger={<Button icon={Plus}>Field</Button>}
          items={[
            { label: 'A field to fill in', run: () => newField('text') },
            { label: 'A formula field', hint: 'worked out', run: () => newField('formula') },
            ...(app.tables.length > 1
              ? [
                  {
                    label: 'A link to another table',
                    run: () => void addLinkField(app, table, edit).then((id) => id && select(id)),
                  },
                ]
              : []),
          ]}
        />
        <Button look={bringing ? 'plain' : 'main'} icon={Plus} onClick={addRecord}>
          Record
        </Button>
      </header>
      <div className="sentence px-6 pt-1">
        Each record is called a{' '}
        <NameField
          value={table.one}
          label="What one record is called"
          onChange={(n) =>
            void edit(`Called one record of ${table.name} a ${n}`, (a) => {
              a.tables.find((t) => t.id === table.id)!.one = n.toLowerCase();
            })
          }
          className="font-semibold text-ink"
        />
        , known by its{' '}
        <ChoiceChip
          name="Known by"
          value={table.titleField}
          choices={fields}
          onChange={(v) =>
            void edit(`Records of ${table.name} are known by another field`, (a) => {
              a.tables.find((t) => t.id === table.id)!.titleField = v;
            })
          }
        />
        , in the order of{' '}
        <ChoiceChip
          name="Order"
          value={order?.by ?? ''}
          choices={[{ value: '', label: 'coming in' }, ...fields]}
          onChange={(v) => setOrder(v ? { by: v, descending: false } : null)}
        />
        {order && ' '}
        {order && (
          <ChoiceChip
            name="Direction"
            value={order.descending}
            choices={[
              { value: false, label: 'upwards' },
              { value: true, label: 'downwards' },
            ]}
            onChange={(descending) => setOrder({ ...order, descending })}
          />
        )}
        <Popover
          trigger={
            <Button small look={search ? 'plain' : 'quiet'} className="ml-1">
              {search ? `with “${search}”` : 'find in table'}
            </Button>
          }
        >
          {() => (
            <div className="p-2">
              <input
                autoFocus
                type="search"
                className="field"
                aria-label="Find in this table"
                placeholder="Find in this table"
                value={search}
                onChange={(e) => setSearch(e.target.value)}
              />
            </div>
          )}
        </Popover>
      </div>
      <div className="flex min-h-[180px] flex-1">
        <Grid
          table={table}
          order={order}
          search={search}
          selectedField={field?.id ?? null}
          onSelectField={select}
          onOpen={openRecord}
          reveal={added}
        />
        {record && (
          <RecordPage key={record} table={table} id={record} onClose={() => setParams({}, { replace: true })} />
        )}
      </div>
      {bringing && (
        <BringInto
          key={bringing.name + bringing.lastModified}
          table={table}
          file={bringing}
          onClose={() => setBringing(null)}
        />
      )}
      {field && !bringing && <FieldCard key={field.id} table={table} field={field} onClose={() => select(null)} />}
    </>
  );
}

async function addLinkField(
  app: ReturnType<typeof useApp>,
  table: Table,
  edit: ReturnType<typeof useStudio.getState>['edit'],
): Promise<string> {
  const target = app.tables.find((t) => t.id !== table.id)!;
  let id = '';
  await edit(`Added a link from ${table.name} to ${target.name}`, (a) => {
    const one = target.one.charAt(0).toUpperCase() + target.one.slice(1);
    const field = addField(a, table.id, 'link', one);
    field.link = {
      kind: 'picked',
      table: target.id,
      backName: freeName(table.name, [
        ...target.fields.map((f) => f.name),
        ...a.tables.flatMap((t) => t.fields.flatMap((f) => (f.link?.table === target.id ? [f.link.backName] : []))),
      ]),
    };
    id = field.id;
  });
  return id;
}

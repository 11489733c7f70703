import {
  Columns3,
  Download,
  FolderSync,
  Globe,
  History,
  MoreHorizontal,
  Plus,
  Smartphone,
  Trash2,
  Upload,
} from 'lucide-react';
import { useEffect, useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { addField, pickedLink, removeTable, renameTable } from '../../core/app/edits.ts';
import { requestWithService } from '../../core/app/services.ts';
import { addScreensFor } from '../../core/app/screens-for.ts';
import { aOrAn } from '../../core/document/names.ts';
import { idsOfTable, usesInWords, usesOf } from '../../core/app/uses.ts';
import { writable, readableEndings } from '../../core/formats/formats.ts';
import type { Table } from '../../core/tables/schema.ts';
import { connected } from '../../core/tables/names.ts';
import { newRecordId } from '../../core/host/device.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { download } from '../state/keep.ts';
import { useApp, useEngine, useHome, useStudio } from '../state/studio.ts';
import { toastWithUndo } from '../state/undo-toast.ts';
import { Button } from '../ui/controls.tsx';
import { NameField } from '../ui/NameField.tsx';
import { Menu } from '../ui/popover.tsx';
import { chooseFiles } from '../ui/files.ts';
import { BringInto } from './BringInto.tsx';
import { FetchInto } from './FetchInto.tsx';
import { FieldCard } from './FieldCard.tsx';
import { FindInTable } from './FindInTable.tsx';
import { Grid } from './Grid.tsx';
import { KeyChip } from './KeyChip.tsx';
import { MirrorCard } from './MirrorCard.tsx';
import { MirrorStrip } from './MirrorStrip.tsx';
import { RecordPage } from './RecordPage.tsx';
import { RemovedRecords } from './RemovedRecords.tsx';
import { ViewSentence } from './ViewSentence.tsx';

/** The records of one table, with how they are looked at. */
export function TableDesk({ table }: { table: Table }) {
  const app = useApp();
  const engine = useEngine();
  const edit = useStudio((s) => s.edit);
  const editRecords = useStudio((s) => s.editRecords);
  const home = useHome();
  const navigate = useNavigate();
  const { part } = useParams();
  const [params, setParams] = useSearchParams();
  const record = params.get('record');
  const openRecord = (to: string, id: string): void => void navigate(`${home}/data/${to}?record=${id}`);
  const [search, setSearch] = useState('');
  const [card, setCard] = useState<'removed' | 'mirror' | 'fetch' | null>(null);
  const [bringing, setBringing] = useState<File | null>(null);
  const [added, setAdded] = useState<string | null>(null);
  const field = table.fields.find((f) => f.id === part);
  const select = (id: string | null): void =>
    void navigate(`${home}/data/${table.id}${id ? `/${id}` : ''}`, { replace: true });

  const addRecord = (): void => {
    const id = newRecordId();
    void editRecords(`Added ${aOrAn(table.one)}`, [{ do: 'set', table: table.id, record: id, cells: {} }]).then(() =>
      setAdded(id),
    );
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
    toastWithUndo(`Removed ${table.name}.${uses.length ? ` It was used by ${usesInWords(uses)}.` : ''}`);
    void navigate(`${home}/data`);
  };
  const makeScreens = (): void => {
    let first = '';
    void edit(`Made screens for ${table.name}`, (a) => {
      first = addScreensFor(a, table.id)[0]?.id ?? '';
    }).then(() => navigate(`${home}/screens/${first}`));
  };
  const exportItems = writable()
    .toSorted((a, b) => a.name.localeCompare(b.name))
    .map((f) => ({
      label: `Export as ${f.name}`,
      icon: Download,
      run: () =>
        void engine.exporting
          .table(table.id, f.id)
          .then((b) => download(`${table.name}${f.endings[0]}`, b as BlobPart, f.type)),
    }));
  const { fetched, inStep } = table;
  const request = requestWithService(app, connected(table)?.request ?? '')?.request;
  useEffect(() => {
    if (fetched) void engine.fetchTable(table.id);
  }, [engine, table.id, fetched]);
  const hasScreens = app.screens.some((s) => s.given === table.id);
  const fields = table.fields.map((f) => ({ value: f.id, label: f.name }));

  return (
    <>
      <div className="@container">
        <header className="flex items-center gap-2 px-6 pt-5">
          <h1 className="max-w-[46%] min-w-0 shrink-0 text-xl">
            <NameField
              value={table.name}
              label="Name of the table"
              onChange={(n) => void edit(`Renamed ${table.name} to ${n}`, (a) => renameTable(a, table.id, n))}
              className="truncate"
            />
          </h1>
          <span className="min-w-0 flex-1" />
          <FindInTable search={search} onSearch={setSearch} />
          <Menu
            align="end"
            trigger={<Button aria-label="More for this table" icon={MoreHorizontal} />}
            items={[
              ...exportItems,
              null,
              {
                label: hasScreens ? 'Make more screens for it' : 'Make screens for it',
                icon: Smartphone,
                run: makeScreens,
              },
              ...(fetched
                ? []
                : [
                    ...(inStep
                      ? []
                      : [
                          { label: 'Fetch data from an address', icon: Globe, run: () => setCard('fetch') },
                          { label: 'Mirror a file', icon: FolderSync, run: () => setCard('mirror') },
                        ]),
                    { label: 'Bring back removed records', icon: History, run: () => setCard('removed') },
                  ]),
              { label: 'Remove this table', icon: Trash2, danger: true, run: remove },
            ]}
          />
          {!fetched && (
            <Button
              icon={Upload}
              title="Bring in a file"
              aria-label="Bring in a file"
              onClick={() => void chooseFiles(readableEndings(), false).then(([f]) => f && setBringing(f))}
            >
              <span className="hidden @min-[720px]:inline">Bring in</span>
            </Button>
          )}
          <Menu
            align="end"
            trigger={
              <Button icon={Columns3} aria-label="Field" title="Add a field">
                <span className="hidden @min-[600px]:inline">Field</span>
              </Button>
            }
            items={[
              ...(fetched ? [] : [{ label: 'A field to fill in', run: () => newField('text') }]),
              { label: 'A formula field', hint: 'worked out', run: () => newField('formula') },
              ...(app.tables.length > 1 && !fetched
                ? [
                    {
                      label: 'A link to another table',
                      run: () => void addLinkField(app, table, edit).then((id) => id && select(id)),
                    },
                  ]
                : []),
            ]}
          />
          {!fetched && (
            <Button look={bringing ? 'plain' : 'main'} icon={Plus} onClick={addRecord}>
              Record
            </Button>
          )}
          {fetched && !hasScreens && (
            <Button look="main" icon={Smartphone} onClick={makeScreens}>
              Make screens for it
            </Button>
          )}
        </header>
      </div>
      <div className="sentence px-6 pt-1">
        Each record is called {aOrAn(table.one).split(' ')[0]}{' '}
        <NameField
          value={table.one}
          label="What one record is called"
          onChange={(n) =>
            void edit(`Called one record of ${table.name} ${aOrAn(n)}`, (a) => {
              a.tables.find((t) => t.id === table.id)!.one = n.toLowerCase();
            })
          }
          className="font-semibold text-ink"
        />
        , titled by its{' '}
        <ChoiceChip
          name="Title"
          value={table.titleField}
          choices={fields}
          onChange={(v) =>
            void edit(`Records of ${table.name} are titled by another field`, (a) => {
              a.tables.find((t) => t.id === table.id)!.titleField = v;
            })
          }
        />
        {fetched ? (
          <>
            . Fetched by{' '}
            <Link to={`${home}/services/${fetched.request}`} className="font-semibold text-kelp hover:underline">
              {request?.name ?? 'a request that is gone'}
            </Link>
            , here with its test values
          </>
        ) : (
          <>
            , identified by <KeyChip table={table} />
            {inStep && (
              <>
                . Kept in step with{' '}
                <Link to={`${home}/services/${inStep.request}`} className="font-semibold text-kelp hover:underline">
                  {request?.name ?? 'a request that is gone'}
                </Link>{' '}
                as soon as the app is released
              </>
            )}
          </>
        )}
      </div>
      <ViewSentence table={table} />
      <MirrorStrip table={table} onSettings={() => setCard('mirror')} />
      <div className="flex min-h-[180px] flex-1">
        <Grid
          table={table}
          search={search}
          onStopFinding={() => setSearch('')}
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
      {card === 'fetch' && !bringing && <FetchInto table={table} onFile={setBringing} onClose={() => setCard(null)} />}
      {card === 'removed' && !bringing && <RemovedRecords table={table} onClose={() => setCard(null)} />}
      {card === 'mirror' && !bringing && <MirrorCard table={table} onClose={() => setCard(null)} />}
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
    field.link = pickedLink(a as typeof app, target, table.name);
    id = field.id;
  });
  return id;
}

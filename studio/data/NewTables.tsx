import { useState } from 'react';
import { Plus } from 'lucide-react';
import { useNavigate } from 'react-router';
import { addTable } from '../../core/app/edits.ts';
import { addWritten } from '../../core/app/written-tables.ts';
import { freeName } from '../../core/document/names.ts';
import { useWritten, WriteBox, WrittenPreview } from '../bring/WriteTables.tsx';
import { useApp, useHome, useStudio } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';

/** Where tables are added: written as text, or empty. */
export function NewTables() {
  const app = useApp();
  const edit = useStudio((s) => s.edit);
  const home = useHome();
  const navigate = useNavigate();
  const [text, setText] = useState('');
  const written = useWritten(text, app.tables);
  const add = (): void => {
    let id = '';
    const names = app.tables.map((t) => t.name);
    const said = written.length ? written.map((w) => w.name).join(', ') : freeName('New table', names);
    void edit(`Added ${said}`, (a) => {
      id = (written.length ? addWritten(a, written)[0] : addTable(a, said))?.id ?? '';
    }).then(() => navigate(`${home}/data/${id}`));
  };
  return (
    <div className="thin-scroll min-h-0 flex-1 overflow-auto px-6 py-5">
      <div className="mx-auto max-w-[640px]">
        <header className="mb-1 flex items-center gap-3">
          <h1 className="min-w-0 flex-1 text-xl">New table</h1>
          <Button look="main" icon={Plus} onClick={add}>
            {written.length > 1 ? `Add ${written.length} tables` : 'Add table'}
          </Button>
        </header>
        <p className="mb-4 text-ink-soft">
          A table holds what the app is about: hives, members, bookings. Write its name and its fields; a line for each
          table. Left empty, it begins with a name.
        </p>
        <WriteBox value={text} onChange={setText} onDone={add} rows={5} takesFocus />
        <p className="mt-2 text-sm text-ink-soft">
          In brackets, say more: <i>price (€)</i>, <i>state (open, done)</i>, <i>keeper (Members)</i>,{' '}
          <i>notes (long text)</i>; <i>paid?</i> is yes or no.
        </p>
        {written.length > 0 && (
          <section className="card mt-4 px-4 py-3">
            <WrittenPreview tables={written} there={app.tables.length} />
          </section>
        )}
      </div>
    </div>
  );
}

import { Smartphone } from 'lucide-react';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { appOfWritten } from '../../core/app/written-tables.ts';
import { useWritten, WriteBox, WrittenPreview } from '../bring/WriteTables.tsx';
import { keepApp, keepEmpty } from '../state/keep.ts';
import { Button } from '../ui/controls.tsx';

/** Rows of a spreadsheet are pasted with tabs between their cells. */
const areRows = (text: string): boolean => text.trim().split('\n').length > 1 && text.includes('\t');

/** Begins an app without a file: tables written as text, rows pasted from a spreadsheet, or an empty screen. */
export function FromNothing({ onFiles }: { onFiles(files: File[]): void }) {
  const navigate = useNavigate();
  const [text, setText] = useState('');
  const rows = areRows(text);
  const written = useWritten(rows ? '' : text);
  const begin = async (): Promise<void> => {
    if (rows) return onFiles([new File([text], 'Pasted rows.tsv', { type: 'text/tab-separated-values' })]);
    const id = written.length ? await keepApp({ app: appOfWritten(written), records: [] }) : await keepEmpty();
    await navigate(`/app/${id}/${written.length ? 'screens' : 'data'}`);
  };
  return (
    <section className="card flex flex-col justify-between p-6">
      <div>
        <div className="mb-2 flex items-center gap-3">
          <span className="grid size-10 shrink-0 place-items-center rounded-xl bg-paper text-persimmon">
            <Smartphone size={18} aria-hidden />
          </span>
          <h2 className="text-lg">From nothing</h2>
        </div>
        <p className="mb-2.5 text-md text-ink-soft">Write what it keeps, paste rows, or begin with an empty screen.</p>
        <WriteBox value={text} onChange={setText} onDone={() => void begin()} rows={2} />
        {written.length > 0 && (
          <div className="thin-scroll mt-2.5 max-h-[180px] overflow-auto">
            <WrittenPreview tables={written} />
          </div>
        )}
        {rows && <p className="mt-2 text-sm text-ink-soft">These are rows of a sheet. Their columns come next.</p>}
      </div>
      <div className="mt-3">
        <Button onClick={() => void begin()}>
          {rows ? 'Review the rows' : written.length ? 'Make the app' : 'Begin blank'}
        </Button>
      </div>
    </section>
  );
}

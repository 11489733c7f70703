import { X } from 'lucide-react';
import type { Table } from '../../core/tables/schema.ts';
import { FromAddress } from '../bring/FromAddress.tsx';
import { IconButton } from '../ui/controls.tsx';

/** Fetches data for a table that is there; what comes is looked over like a file before anything is written. */
export function FetchInto({ table, onFile, onClose }: { table: Table; onFile(file: File): void; onClose(): void }) {
  return (
    <section aria-label="Fetch data" className="card mx-6 mb-4 shrink-0 px-5 py-3.5">
      <div className="mb-2 flex items-center gap-2.5">
        <h2 className="flex-1 text-[15px]">Fetch data into {table.name}</h2>
        <IconButton icon={X} label="Close" onClick={onClose} />
      </div>
      <FromAddress
        takesFocus
        onFile={(file) => {
          onFile(file);
          onClose();
        }}
      />
      <p className="mt-2 text-sm text-ink-soft">
        You see what is new, what changes and what does not fit before anything is written.
      </p>
    </section>
  );
}

import { Search, X } from 'lucide-react';

/** Looks for words in all fields of a table, those of linked records among them. */
export function FindInTable({ search, onSearch }: { search: string; onSearch(text: string): void }) {
  return (
    <label className="relative inline-flex max-w-[150px] min-w-[84px] flex-[0_1_150px] items-center">
      <Search size={13} className="absolute left-2 text-ink-faint" aria-hidden />
      <input
        type="search"
        aria-label="Find in this table"
        placeholder="Find"
        value={search}
        onChange={(e) => onSearch(e.target.value)}
        className="field !w-full !pl-7"
      />
      {search && (
        <button
          type="button"
          aria-label="Stop finding"
          onClick={() => onSearch('')}
          className="absolute right-1 grid size-5 place-items-center rounded text-ink-soft hover:bg-sunk"
        >
          <X size={12} aria-hidden />
        </button>
      )}
    </label>
  );
}

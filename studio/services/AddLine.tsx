import { CirclePlus } from 'lucide-react';

/** Quiet buttons side by side, each of which adds something. */
export function AddLine({ adds }: { adds: readonly (readonly [label: string, add: () => void])[] }) {
  return (
    <div className="mt-1 flex flex-wrap gap-x-4">
      {adds.map(([label, add]) => (
        <button
          key={label}
          type="button"
          onClick={add}
          className="flex h-7 items-center gap-1.5 rounded-control text-sm text-ink-soft hover:text-ink"
        >
          <CirclePlus size={14} aria-hidden /> {label}
        </button>
      ))}
    </div>
  );
}

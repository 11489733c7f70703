import type { ReactNode } from 'react';

/** A labelled line where a step is corrected. */
export function Part({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className="flex flex-wrap items-center gap-2">
      <span className="w-[104px] shrink-0 text-sm text-ink-soft">{label}</span>
      {children}
    </div>
  );
}

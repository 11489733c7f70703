import type { LucideIcon } from 'lucide-react';

/** A kept file by its name. */
export function KeptCell({ icon: Icon, name }: { icon: LucideIcon; name: string }) {
  return (
    <span className="flex min-w-0 items-center gap-1.5 text-ink-soft">
      <Icon size={13} className="shrink-0" aria-hidden /> <span className="truncate">{name}</span>
    </span>
  );
}

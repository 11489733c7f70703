import { clsx } from 'clsx';
import { Eye } from 'lucide-react';
import { toast } from 'sonner';

/** Makes something that is pointed at a thing that must be so when the scene is played. Seen where the mouse or the keys are. */
export function ExpectThis({ what, expect, className }: { what: string; expect(): unknown; className?: string }) {
  return (
    <button
      type="button"
      aria-label={`Expect ${what}`}
      title="Expect this in the scene"
      onClick={() => {
        expect();
        toast('Expected in the scene.');
      }}
      className={clsx(
        'grid size-6 shrink-0 place-items-center rounded-md border border-line bg-raised text-ink-soft opacity-0 group-hover:opacity-100 hover:text-ink focus-visible:opacity-100',
        className,
      )}
    >
      <Eye size={13} aria-hidden />
    </button>
  );
}

import { CircleAlert, ClipboardCheck, Eye } from 'lucide-react';
import { clsx } from 'clsx';
import { useNavigate } from 'react-router';
import { stops } from '../../core/preflight/preflight.ts';
import { noteTo, useNotes } from '../state/notes.ts';
import { useHome } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';
import { Popover } from '../ui/popover.tsx';

/** How many things preflight found, and the way to each. */
export function NotesButton() {
  const notes = useNotes();
  const home = useHome();
  const navigate = useNavigate();
  const bad = stops(notes);
  const words = notes.length === 0 ? 'All clear' : `${notes.length} to look at`;
  return (
    <Popover
      width={400}
      align="end"
      trigger={
        <Button
          icon={ClipboardCheck}
          aria-label={`Preflight: ${words}`}
          className={clsx(
            notes.length === 0
              ? 'text-kelp'
              : bad
                ? 'border-persimmon/50 text-persimmon-deep'
                : 'border-[#E8CE8A] text-saffron',
          )}
        >
          <span className="max-[1100px]:hidden">{words}</span>
          <span className="hidden max-[1100px]:inline">{notes.length}</span>
        </Button>
      }
    >
      {(close) => (
        <div className="p-2">
          <h2 className="px-2 pt-1 pb-1.5 text-[14px]">Preflight</h2>
          {notes.length === 0 && (
            <p className="px-2 pb-2 text-ink-soft">Nothing is unfinished, broken or out of reach.</p>
          )}
          <ul>
            {notes.slice(0, 40).map((n, i) => (
              <li key={i}>
                <button
                  type="button"
                  onClick={() => {
                    close();
                    void navigate(`${home}/${noteTo(n)}`);
                  }}
                  className="flex w-full items-start gap-2 rounded-md px-2 py-1.5 text-left hover:bg-sunk"
                >
                  {n.severity === 'stops' ? (
                    <CircleAlert size={15} className="mt-0.5 shrink-0 text-persimmon" aria-label="Stops a release" />
                  ) : (
                    <Eye size={15} className="mt-0.5 shrink-0 text-saffron" aria-label="Worth a look" />
                  )}
                  <span>{n.said}</span>
                </button>
              </li>
            ))}
            {notes.length > 40 && <li className="px-2 py-1 text-ink-faint">and {notes.length - 40} more</li>}
          </ul>
        </div>
      )}
    </Popover>
  );
}

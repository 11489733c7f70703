import { clsx } from 'clsx';
import { NavLink } from 'react-router';
import { placeIn } from '../state/last-place.ts';
import { useNotes } from '../state/notes.ts';

/** The workspaces that work, in the order of the work. */
export const WORKSPACES = [
  ['data', 'Data'],
  ['screens', 'Screens'],
  ['logic', 'Logic'],
  ['services', 'Services'],
  ['people', 'People'],
  ['rehearse', 'Rehearse'],
  ['release', 'Release'],
] as const;

/** The way through the work, as kites on a string. */
export function Trail({ current, appId }: { current: string; appId: string }) {
  const notes = useNotes();
  return (
    <nav aria-label="Workspaces" className="mx-auto flex h-full items-stretch">
      {WORKSPACES.map(([id, name], i) => {
        const here = id === current;
        const noted = notes.some((n) => n.workspace === id);
        return (
          <NavLink
            key={id}
            // Going back to a workspace goes on where one was; pressed there, it leads to its beginning.
            to={here ? `/app/${appId}/${id}` : placeIn(appId, id)}
            className={clsx(
              'relative flex w-[84px] flex-col items-center pt-[15px] text-[13.5px] font-medium max-[1100px]:w-[74px]',
              here ? 'font-semibold text-ink' : 'text-ink-soft hover:text-ink',
            )}
          >
            {name}
            <span
              aria-hidden
              className={clsx(
                'absolute bottom-[7px] h-px bg-line-strong',
                i === 0 ? 'right-0 left-1/2' : i === WORKSPACES.length - 1 ? 'right-1/2 left-0' : 'inset-x-0',
              )}
            />
            <svg aria-hidden viewBox="0 0 12 12" className="absolute bottom-[1px] size-3">
              <path
                d="M6 .8 11.2 6 6 11.2.8 6Z"
                className={
                  here
                    ? 'fill-persimmon stroke-persimmon'
                    : noted
                      ? 'fill-saffron-wash stroke-saffron'
                      : 'fill-raised stroke-line-strong'
                }
              />
            </svg>
          </NavLink>
        );
      })}
    </nav>
  );
}

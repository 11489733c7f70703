import type { App } from '../../core/app/schema.ts';
import type { BoardMessage } from '../../core/runs/board.ts';
import { Segmented } from '../ui/controls.tsx';

/** What runs of the server that are under way go on with after a release. */
export type RunsAfter = 'newest' | 'as-begun';

/** How many runs are under way on the server; those that failed are, too, since they can be gone on with. */
const underWay = ({ counts }: BoardMessage): number => Object.values(counts).reduce((n, c) => n + c, 0);

/** Is there anything to choose: do runs that are under way have other steps than the release that is to come? */
export const asksAboutRuns = (board: BoardMessage | undefined, released: App | undefined, app: App): boolean =>
  board !== undefined &&
  underWay(board) > 0 &&
  (board.earlier > 0 || JSON.stringify(released?.routines) !== JSON.stringify(app.routines));

/** Asks what runs that are under way go on with after the release. */
export function RunsUnderWay({
  board,
  value,
  onChange,
}: {
  board: BoardMessage;
  value: RunsAfter;
  onChange(value: RunsAfter): void;
}) {
  const count = underWay(board);
  const one = count === 1;
  const hints: Record<RunsAfter, string> = {
    newest: `${one ? 'It stays' : 'Each stays'} at the step where it is. Where that step is gone, the run ends or goes on with the next, as its routine says.`,
    'as-begun': `${one ? 'It keeps' : 'Each keeps'} the steps from before this release. Tables, services and rules are the new ones.`,
  };
  return (
    <section className="card px-5 py-4" aria-label="Runs under way">
      <div className="mb-1.5 flex items-center justify-between gap-3">
        <h2 className="text-[14px]">Runs under way</h2>
        <Segmented
          label="What they go on with"
          value={value}
          onChange={onChange}
          options={[
            ['newest', 'The new steps'],
            ['as-begun', one ? 'As it began' : 'As they began'],
          ]}
        />
      </div>
      <p>
        {count.toLocaleString('en-GB')} {one ? 'run' : 'runs'} on the server {one ? 'has' : 'have'} not ended
        {board.earlier > 0 &&
          `, ${board.earlier === count ? '' : `${board.earlier.toLocaleString('en-GB')} of them `}with the steps of an earlier release`}
        . With this release {one ? 'it goes' : 'they go'} on with{' '}
        {value === 'newest' ? 'the new steps' : `the steps ${one ? 'it' : 'they'} began with`}.
      </p>
      <p className="text-ink-soft">{hints[value]}</p>
    </section>
  );
}

import { useQuery } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { Dialog } from 'radix-ui';
import { useNavigate } from 'react-router';
import { clsx } from 'clsx';
import { elementOf } from '../../core/app/edits.ts';
import { elementName } from '../../core/app/names.ts';
import type { App, Screen } from '../../core/app/schema.ts';
import type { Weight } from '../../core/screens/weight.ts';
import { useRevisions } from '../state/revisions.ts';
import { useApp, useEngine, useHome } from '../state/studio.ts';
import { IconButton } from '../ui/controls.tsx';

/** A phone of a few years ago takes so many times as long as this machine. */
const SLOW = 4;
/** From so many records on, a list wants a limit or conditions. */
const MANY = 2000;

const kB = (bytes: number): string => `${(bytes / 1000).toLocaleString('en-GB', { maximumFractionDigits: 1 })} kB`;

/** What every screen takes to draw, measured once here, with this one among the others and what to change first. */
export default function WeightView({ screen, onClose }: { screen: Screen; onClose(): void }) {
  const app = useApp();
  const engine = useEngine();
  const navigate = useNavigate();
  const home = useHome();
  const revision = useRevisions((s) => s.revision);
  const { data } = useQuery({ queryKey: ['weights', revision], queryFn: () => engine.trying.weights() });
  const own = data?.find((w) => w.screen === screen.id);
  const most = Math.max(1, ...(data ?? []).map((w) => w.bytes));
  const open = (to: string): void => {
    onClose();
    void navigate(`${home}/screens/${to}`);
  };
  const advice = own && adviceOn(app, own);
  return (
    <Dialog.Root open onOpenChange={(is) => !is && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Dialog.Content
          className="float thin-scroll fixed top-[8vh] left-1/2 z-50 max-h-[84vh] w-[780px] max-w-[94vw] -translate-x-1/2 overflow-auto"
          aria-describedby={undefined}
        >
          <header className="flex items-center justify-between gap-4 border-b border-line px-5 py-3">
            <Dialog.Title className="truncate text-[17px]">The weight of {screen.name}</Dialog.Title>
            <IconButton icon={X} label="Close the weights" onClick={onClose} />
          </header>
          <div className="px-5 py-4">
            {!own ? (
              <p role="status" className="text-ink-soft">
                Weighing every screen
              </p>
            ) : (
              <p className="mb-4">
                {advice ? (
                  <>
                    {advice.said}{' '}
                    <button
                      type="button"
                      className="font-semibold text-kelp hover:underline"
                      onClick={() => open(`${screen.id}/${advice.element}`)}
                    >
                      Go there
                    </button>
                  </>
                ) : (
                  'Nothing on it is heavy.'
                )}
              </p>
            )}
            {data && (
              <table className="w-full text-sm">
                <thead className="text-left text-ink-soft">
                  <tr>
                    {['Screen', 'Elements', 'Queries', 'Records', 'To the page', 'On a slow phone'].map((h, i) => (
                      <th key={h} className={clsx('pb-1.5 font-semibold', i > 0 && 'text-right')}>
                        {h}
                      </th>
                    ))}
                  </tr>
                </thead>
                <tbody>
                  {data.map((w) => (
                    <tr
                      key={w.screen}
                      className={clsx('border-t border-line', w.screen === screen.id && 'bg-dusk-wash font-semibold')}
                    >
                      <td className="py-1">
                        <button type="button" className="text-left hover:underline" onClick={() => open(w.screen)}>
                          {app.screens.find((s) => s.id === w.screen)?.name}
                        </button>
                        <span
                          aria-hidden
                          className="mt-0.5 block h-[3px] rounded bg-kelp"
                          style={{ width: `${Math.max(1, (w.bytes / most) * 100)}%` }}
                        />
                      </td>
                      {[w.elements, w.queries, w.records].map((n, i) => (
                        <td key={i} className="py-1 text-right font-mono text-xs">
                          {n.toLocaleString('en-GB')}
                        </td>
                      ))}
                      <td className="py-1 text-right font-mono text-xs">{kB(w.bytes)}</td>
                      <td className="py-1 text-right font-mono text-xs">{Math.max(1, Math.round(w.ms * SLOW))} ms</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            )}
            <p className="mt-3 text-xs text-ink-faint">
              Measured by drawing each screen once on this machine; a slow phone is taken to need {SLOW} times as long.
            </p>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** What to change first on a screen that is heavy; null where nothing is. */
function adviceOn(app: App, { heaviest, elements, records }: Weight): { said: string; element: string } | null {
  const element = heaviest && elementOf(app, heaviest.element);
  if (!element || !heaviest) return null;
  const name = elementName(app, element);
  if (heaviest.records >= MANY)
    return {
      said: `${name} goes through ${heaviest.records.toLocaleString('en-GB')} records. Give it conditions or a limit.`,
      element: element.id,
    };
  return elements > 400 && records > 200
    ? { said: `${name} draws much of each record. Fewer elements in its rows make it lighter.`, element: element.id }
    : null;
}

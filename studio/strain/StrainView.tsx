import { Dialog } from 'radix-ui';
import { CircleCheck, X } from 'lucide-react';
import { useCallback, useState } from 'react';
import { useNavigate } from 'react-router';
import { elementOf } from '../../core/app/edits.ts';
import { elementName } from '../../core/app/names.ts';
import { faultMend } from '../../core/app/strain-mends.ts';
import type { Screen } from '../../core/app/schema.ts';
import { useApp, useHome, useStudio } from '../state/studio.ts';
import { IconButton } from '../ui/controls.tsx';
import type { Finding } from './measure.ts';
import { Strained } from './Strained.tsx';
import { STRAINS } from './strains.ts';

/** What was found under several strains is one thing to mend. */
function together(found: Readonly<Record<string, Finding[]>>): (Finding & { strains: string[] })[] {
  const things = new Map<string, Finding & { strains: string[] }>();
  for (const { id, name } of STRAINS)
    for (const f of found[id] ?? []) {
      const key = `${f.element} ${f.kind}`;
      const known = things.get(key);
      if (known) known.strains.push(name);
      else things.set(key, { ...f, strains: [name] });
    }
  return [...things.values()];
}

/** A screen as it stands up to what happens to it: side by side, with what does not hold. */
export default function StrainView({ screen, onClose }: { screen: Screen; onClose(): void }) {
  const app = useApp();
  const home = useHome();
  const edit = useStudio((s) => s.edit);
  const navigate = useNavigate();
  const [found, setFound] = useState<Readonly<Record<string, Finding[]>>>({});
  const done = Object.keys(found).length;
  const all = together(found);
  const tell = useCallback((id: string, list: Finding[]) => setFound((was) => ({ ...was, [id]: list })), []);
  const go = (element: string): void => {
    onClose();
    void navigate(`${home}/screens/${screen.id}/${element}`);
  };
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Dialog.Content
          className="float fixed inset-5 z-50 flex flex-col overflow-hidden"
          aria-describedby={undefined}
          onOpenAutoFocus={(e) => e.preventDefault()}
        >
          <header className="flex items-center justify-between gap-4 border-b border-line px-5 py-3">
            <Dialog.Title className="truncate text-[17px]">{screen.name} under strain</Dialog.Title>
            <IconButton icon={X} label="Close the strain view" onClick={onClose} />
          </header>
          <div className="flex min-h-0 flex-1">
            <div className="thin-scroll grid min-w-0 flex-1 grid-cols-[repeat(auto-fill,minmax(200px,1fr))] content-start gap-5 overflow-auto bg-sunk p-5">
              {STRAINS.map((s) => (
                <Strained key={s.id} strain={s} screen={screen} count={found[s.id]?.length ?? null} tell={tell} />
              ))}
            </div>
            <section
              aria-label="What does not hold"
              className="thin-scroll w-[330px] shrink-0 overflow-auto border-l border-line p-4"
            >
              <h2 className="mb-2 text-[15px]">
                {done < STRAINS.length
                  ? `Looking, ${done} of ${STRAINS.length}`
                  : all.length === 0
                    ? 'It holds'
                    : `${all.length} ${all.length === 1 ? 'thing does' : 'things do'} not hold`}
              </h2>
              {done === STRAINS.length && all.length === 0 && (
                <p className="flex items-center gap-2 text-kelp">
                  <CircleCheck size={16} className="shrink-0" aria-hidden /> Nothing is cut off, broken, blank, covered,
                  too wide, too small, too pale or too slow.
                </p>
              )}
              <ul className="space-y-1">
                {all.map((f) => {
                  const element = elementOf(app, f.element);
                  const mend = faultMend(app, f.element, f.kind);
                  return (
                    <li key={`${f.element} ${f.kind}`}>
                      <button
                        type="button"
                        onClick={() => go(f.element)}
                        onMouseEnter={() => bringIntoView(f.node)}
                        onFocus={() => bringIntoView(f.node)}
                        className="w-full rounded-control px-2 py-1.5 text-left hover:bg-sunk"
                      >
                        <span className="block">{f.said}.</span>
                        <span className="block text-xs text-ink-faint">
                          {element ? elementName(app, element) : 'Gone'}: {f.strains.join(', ')}
                        </span>
                      </button>
                      {mend && (
                        <button
                          type="button"
                          className="px-2 pb-1 text-sm font-semibold text-kelp hover:underline"
                          onClick={() =>
                            void edit(`${mend.said}: ${element ? elementName(app, element) : ''}`, (a) =>
                              mend.do(a as typeof app),
                            )
                          }
                        >
                          {mend.said}
                        </button>
                      )}
                    </li>
                  );
                })}
              </ul>
            </section>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

const bringIntoView = (node: Element): void => node.scrollIntoView({ block: 'center', behavior: 'smooth' });

import { Dialog } from 'radix-ui';
import { CircleCheck, X } from 'lucide-react';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { elementOf } from '../../core/app/edits.ts';
import { elementName } from '../../core/app/names.ts';
import { faultMend } from '../../core/app/strain-mends.ts';
import type { Screen } from '../../core/app/schema.ts';
import { EffectChannel, frameOf } from '../../player/api.ts';
import { Player } from '../../player/Player.tsx';
import { usePhone } from '../state/phone.ts';
import { useApp, useHome, useStudio } from '../state/studio.ts';
import { IconButton } from '../ui/controls.tsx';
import { measured, type Finding } from './measure.ts';
import { STRAINS, strained, type Strain } from './strains.ts';

/** Each of the small pages fits into this, in pixels. */
const ROOM = { width: 210, height: 380 };
/** Pictures and fonts arrive, and the page comes to rest. */
const REST_MS = 700;

/** A screen as it stands up to what happens to it: side by side, with what does not hold. */
export default function StrainView({ screen, onClose }: { screen: Screen; onClose(): void }) {
  const app = useApp();
  const home = useHome();
  const edit = useStudio((s) => s.edit);
  const navigate = useNavigate();
  const [found, setFound] = useState<Readonly<Record<string, Finding[]>>>({});
  const done = Object.keys(found).length;
  const all = STRAINS.flatMap((s) => (found[s.id] ?? []).map((f) => ({ ...f, strain: s })));
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
            <div className="thin-scroll grid min-w-0 flex-1 grid-cols-[repeat(auto-fill,minmax(222px,1fr))] content-start gap-5 overflow-auto bg-sunk p-5">
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
                  <CircleCheck size={16} aria-hidden /> Nothing is cut off, broken, too wide, too small or too pale.
                </p>
              )}
              <ul className="space-y-1">
                {all.map((f) => {
                  const element = elementOf(app, f.element);
                  const mend = faultMend(app, f.element, f.kind);
                  return (
                    <li key={`${f.strain.id} ${f.element} ${f.kind}`}>
                      <button
                        type="button"
                        onClick={() => go(f.element)}
                        className="w-full rounded-control px-2 py-1.5 text-left hover:bg-sunk"
                      >
                        <span className="block">{f.said}.</span>
                        <span className="block text-xs text-ink-faint">
                          {f.strain.name}: {element ? elementName(app, element) : 'gone'}
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

/** The screen under one strain, drawn by the real player, which nobody can press here. */
function Strained({
  strain,
  screen,
  count,
  tell,
}: {
  strain: Strain;
  screen: Screen;
  count: number | null;
  tell(id: string, found: Finding[]): void;
}) {
  const app = useApp();
  const api = useStudio((s) => s.phone)!;
  const place = usePhone((s) => s.place);
  const frame = useMemo(() => frameOf(app), [app]);
  const under = useMemo(() => strained(api, strain.values), [api, strain]);
  const effects = useMemo(() => new EffectChannel(), []);
  const record = place?.screen === screen.id ? place.record : null;
  const show = useMemo(() => ({ screen: screen.id, record }), [screen.id, record]);
  const box = useRef<HTMLDivElement>(null);
  const rest = useRef(0);
  const [w, h] = strain.size;
  const scale = Math.min(ROOM.width / w, ROOM.height / h);
  const zoom = strain.zoom ?? 1;
  const onDrawn = useCallback(() => {
    clearTimeout(rest.current);
    rest.current = window.setTimeout(() => {
      const page = box.current?.querySelector<HTMLElement>('.k-app');
      if (page) tell(strain.id, measured(page, scale * zoom));
    }, REST_MS);
  }, [tell, strain.id, scale, zoom]);
  useEffect(() => () => clearTimeout(rest.current), []);
  return (
    <figure className="m-0">
      <figcaption
        className="mb-1.5 flex items-baseline justify-between gap-2 font-semibold"
        style={{ width: w * scale }}
      >
        {strain.name}
        {count !== null && count > 0 && <span className="text-saffron">{count}</span>}
      </figcaption>
      <div
        ref={box}
        inert
        data-strain={strain.id}
        className="overflow-hidden rounded-[14px] shadow-[0_0_0_1px_var(--color-line)]"
        style={{ width: w * scale, height: h * scale }}
      >
        <div
          dir={strain.rightToLeft ? 'rtl' : undefined}
          className="origin-top-left font-normal [font-size:16px]"
          style={{ width: w / zoom, height: h / zoom, transform: `scale(${scale * zoom})` }}
        >
          <Player
            api={under}
            frame={frame}
            effects={effects}
            dark={strain.dark ?? false}
            show={show}
            onDrawn={onDrawn}
          />
        </div>
      </div>
    </figure>
  );
}

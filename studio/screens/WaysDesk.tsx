import { ArrowDown, ArrowUp, X } from 'lucide-react';
import { toast } from 'sonner';
import { moveBy } from '../../core/app/edits.ts';
import { TABS_SHOWN, type Way } from '../../core/app/frames.ts';
import type { App, Screen } from '../../core/app/schema.ts';
import { variablesAt } from '../../core/screens/reach.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import type { FormulaPlace } from '../chips/place.ts';
import { ValueChip } from '../chips/ValueChip.tsx';
import { WhenSentence } from '../chips/WhenSentence.tsx';
import { WordsField } from '../chips/WordsField.tsx';
import { useModel } from '../state/model.ts';
import { useApp, useStudio } from '../state/studio.ts';
import { Button, IconButton } from '../ui/controls.tsx';
import { NameField } from '../ui/NameField.tsx';
import { ICON_CHOICES } from './properties.ts';

/** What formulas of the frame may name: variables that are there on every screen. */
function useFramePlace(): FormulaPlace {
  const model = useModel();
  return { self: null, things: variablesAt(model, '') };
}

/** The tab bar: which screens are one tap away, in what order. */
export function TabsDesk() {
  const { tabs } = useApp();
  return (
    <>
      <h1 className="mb-1 text-xl">Tab bar</h1>
      <p className="mb-3 text-md text-ink-soft">
        The most used screens come first. The app starts with the first tab.
        {tabs.length > TABS_SHOWN && ` A phone shows the first ${TABS_SHOWN - 1}; the rest are under More.`}
      </p>
      <WayList what="tab" ways={tabs} of={(a) => a.tabs} none="No tabs: the app is its first screen alone." />
    </>
  );
}

/** The drawer: what stands at its head, and the screens it leads to. */
export function DrawerDesk() {
  const app = useApp();
  const edit = useStudio((s) => s.edit);
  const place = useFramePlace();
  const { drawer } = app;
  return (
    <>
      <h1 className="mb-1 text-xl">Side drawer</h1>
      <p className="mb-3 text-md text-ink-soft">
        It opens from the side, by its sign or a finger from the left edge, and can lead to the same screens as tabs.
      </p>
      {drawer ? (
        <>
          <section className="card mb-3.5 flex items-center gap-3 px-4 py-3">
            <span className="shrink-0 text-ink-soft">Its head says</span>
            <WordsField
              name="Head of the drawer"
              value={drawer.head}
              place={place}
              placeholder={app.look.logo ? 'Nothing besides the logo' : 'Nothing'}
              onChange={(head) =>
                void edit(
                  'Changed the head of the drawer',
                  (a) => {
                    if (a.drawer) a.drawer.head = head;
                  },
                  { merge: 'drawer head' },
                )
              }
            />
          </section>
          <WayList
            what="way"
            ways={drawer.ways}
            of={(a) => a.drawer?.ways ?? []}
            none="It leads nowhere yet, so its sign is not shown."
          />
          <Button
            small
            look="danger"
            className="mt-4"
            onClick={() =>
              void edit('Removed the drawer', (a) => {
                delete a.drawer;
              })
            }
          >
            Remove the drawer
          </Button>
        </>
      ) : (
        <Button
          look="main"
          onClick={() =>
            void edit('Made a drawer', (a) => {
              a.drawer = { head: a.name, ways: a.tabs.map(({ screen, name, icon }) => ({ screen, name, icon })) };
            })
          }
        >
          Make a drawer
        </Button>
      )}
    </>
  );
}

/** Screens that are one tap away, each with its icon, name, count and when it is seen. */
function WayList({
  what,
  ways,
  of,
  none,
}: {
  what: 'tab' | 'way';
  ways: readonly Way[];
  of(app: App): Way[];
  none: string;
}) {
  const app = useApp();
  const edit = useStudio((s) => s.edit);
  const place = useFramePlace();
  const free = app.screens.filter((s) => opensAlone(s) && !ways.some((t) => t.screen === s.id));
  const move = (at: number, by: number): void =>
    void edit(`Changed the order of the ${what}s`, (a) => moveBy(of(a as App), at, by));
  const change = (label: string, at: number, recipe: (w: Way) => void): void =>
    void edit(label, (a) => recipe(of(a as App)[at]!));
  const setFormula = (at: number, key: 'badge' | 'seenWhen', formula: string, label: string): void =>
    change(label, at, (w) => {
      if (formula) w[key] = formula;
      else delete w[key];
    });
  return (
    <>
      <ol className="card divide-y divide-line">
        {ways.map((t, i) => (
          <li key={t.screen} className="flex flex-wrap items-center gap-x-2 px-4 py-2">
            <span className="w-5 font-mono text-xs text-ink-faint">{i + 1}</span>
            <ChoiceChip
              name={`Icon of ${t.name}`}
              value={t.icon}
              choices={ICON_CHOICES}
              onChange={(icon) =>
                change(`Gave ${t.name} another icon`, i, (w) => {
                  w.icon = icon;
                })
              }
            />
            <span className="min-w-0 flex-1">
              <NameField
                value={t.name}
                label={`Name of the ${what}`}
                onChange={(n) =>
                  change(`Renamed the ${what} ${t.name} to ${n}`, i, (w) => {
                    w.name = n;
                  })
                }
                className="font-semibold"
              />
            </span>
            <span className="text-ink-faint">{app.screens.find((s) => s.id === t.screen)?.name}</span>
            <IconButton icon={ArrowUp} label={`Move ${t.name} up`} disabled={i === 0} onClick={() => move(i, -1)} />
            <IconButton
              icon={ArrowDown}
              label={`Move ${t.name} down`}
              disabled={i === ways.length - 1}
              onClick={() => move(i, 1)}
            />
            <IconButton
              icon={X}
              label={`Take ${t.name} off`}
              onClick={() =>
                void edit(`Took ${t.name} off`, (a) => {
                  of(a as App).splice(i, 1);
                })
              }
            />
            <p className="sentence w-full pl-7 text-sm">
              with the count{' '}
              <ValueChip
                name={`Count of ${t.name}`}
                value={t.badge ?? ''}
                empty="none"
                optional
                wanted="any"
                literals={false}
                place={place}
                onChange={(f) => setFormula(i, 'badge', f, `Gave ${t.name} a count`)}
              />{' '}
              and visible when{' '}
              <WhenSentence
                name={`When ${t.name} is visible`}
                none="always"
                formula={t.seenWhen}
                place={place}
                onChange={(f) => setFormula(i, 'seenWhen', f ?? '', `${t.name} is visible at other times`)}
              />
              {(t.badge || t.seenWhen) && (
                <button
                  type="button"
                  className="ml-2 text-sm text-ink-soft underline decoration-line-strong underline-offset-4"
                  onClick={() =>
                    change(`${t.name} is always seen, without a count`, i, (w) => {
                      delete w.badge;
                      delete w.seenWhen;
                    })
                  }
                >
                  neither
                </button>
              )}
            </p>
          </li>
        ))}
        {ways.length === 0 && <li className="px-4 py-3 text-ink-soft">{none}</li>}
      </ol>
      {free.length > 0 && (
        <p className="sentence mt-3">
          Add a {what} for{' '}
          <ChoiceChip
            name={`Add a ${what}`}
            value={null}
            empty="a screen"
            choices={free.map((s) => ({ value: s.id, label: s.name }))}
            onChange={(id) => {
              const s = app.screens.find((x) => x.id === id)!;
              void edit(`Made ${s.name} a ${what}`, (a) => {
                of(a as App).push({ screen: s.id, name: s.name, icon: s.icon });
              });
              toast(`${s.name} is one tap away now.`);
            }}
          />
        </p>
      )}
    </>
  );
}

/** Can a screen be opened without a record? */
export const opensAlone = (s: Screen): boolean => !s.given || Boolean(s.optional) || Boolean(s.finds);

/** Screens that come before the first: once on a device, or whenever the app starts. */
export function StartDesk() {
  const app = useApp();
  const edit = useStudio((s) => s.edit);
  const choices = [
    { value: '', label: 'nothing' },
    ...app.screens.filter(opensAlone).map((s) => ({ value: s.id, label: s.name })),
  ];
  const set = (key: 'first' | 'every', id: string): void =>
    void edit('Changed how the app starts', (a) => {
      const starts = { ...a.starts };
      if (id) starts[key] = id;
      else delete starts[key];
      if (Object.keys(starts).length) a.starts = starts;
      else delete a.starts;
    });
  const chip = (key: 'first' | 'every', name: string) => (
    <ChoiceChip name={name} value={app.starts?.[key] ?? ''} choices={choices} onChange={(id) => set(key, id)} />
  );
  return (
    <>
      <h1 className="mb-1 text-xl">Start</h1>
      <p className="mb-3 text-md text-ink-soft">
        A screen that comes before the first fills the whole phone. It gives way when it goes back or opens another.
      </p>
      <section className="card sentence px-4 py-3">
        <p>The first time on a device comes {chip('first', 'The first time')}.</p>
        <p>Whenever else the app starts comes {chip('every', 'Every time')}.</p>
      </section>
    </>
  );
}

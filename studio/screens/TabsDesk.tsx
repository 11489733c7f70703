import { ArrowDown, ArrowUp, X } from 'lucide-react';
import { toast } from 'sonner';
import { moveBy } from '../../core/app/edits.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { useApp, useStudio } from '../state/studio.ts';
import { IconButton } from '../ui/controls.tsx';
import { NameField } from '../ui/NameField.tsx';
import { ICON_CHOICES } from './properties.ts';

/** The tab bar: which screens are one tap away, in what order. */
export function TabsDesk() {
  const app = useApp();
  const edit = useStudio((s) => s.edit);
  const free = app.screens.filter((s) => (!s.given || s.optional) && !app.tabs.some((t) => t.screen === s.id));
  const move = (at: number, by: number): void =>
    void edit('Changed the order of the tabs', (a) => moveBy(a.tabs, at, by));
  return (
    <>
      <h1 className="mb-1 text-xl">Tab bar</h1>
      <p className="mb-3 text-md text-ink-soft">The most used screens come first. The app starts with the first tab.</p>
      <ol className="card divide-y divide-line">
        {app.tabs.map((t, i) => (
          <li key={t.screen} className="flex h-11 items-center gap-2 px-4">
            <span className="w-5 font-mono text-xs text-ink-faint">{i + 1}</span>
            <ChoiceChip
              name={`Icon of ${t.name}`}
              value={t.icon}
              choices={ICON_CHOICES}
              onChange={(icon) =>
                void edit(`Gave ${t.name} another icon`, (a) => {
                  a.tabs[i]!.icon = icon;
                })
              }
            />
            <span className="min-w-0 flex-1">
              <NameField
                value={t.name}
                label="Name of the tab"
                onChange={(n) =>
                  void edit(`Renamed the tab ${t.name} to ${n}`, (a) => {
                    a.tabs[i]!.name = n;
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
              disabled={i === app.tabs.length - 1}
              onClick={() => move(i, 1)}
            />
            <IconButton
              icon={X}
              label={`Take ${t.name} off the tab bar`}
              onClick={() =>
                void edit(`Took ${t.name} off the tab bar`, (a) => {
                  a.tabs.splice(i, 1);
                })
              }
            />
          </li>
        ))}
        {app.tabs.length === 0 && (
          <li className="px-4 py-3 text-ink-soft">No tabs: the app is its first screen alone.</li>
        )}
      </ol>
      {app.tabs.length < 5 && free.length > 0 && (
        <p className="sentence mt-3">
          Add a tab for{' '}
          <ChoiceChip
            name="Add a tab"
            value={null}
            empty="a screen"
            choices={free.map((s) => ({ value: s.id, label: s.name }))}
            onChange={(id) => {
              const s = app.screens.find((x) => x.id === id)!;
              void edit(`Made ${s.name} a tab`, (a) => {
                a.tabs.push({ screen: s.id, name: s.name, icon: s.icon });
              });
              toast(`${s.name} is a tab now.`);
            }}
          />
        </p>
      )}
    </>
  );
}

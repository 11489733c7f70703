import { aOrAn } from '../../core/document/names.ts';
import { Copy, Gauge, MoreHorizontal, Trash2, Weight } from 'lucide-react';
import { lazy, Suspense, useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { duplicateScreen, removeScreen, renameScreen } from '../../core/app/edits.ts';
import { usesInWords, usesOf } from '../../core/app/uses.ts';
import type { Screen } from '../../core/app/schema.ts';
import { variablesAt } from '../../core/screens/reach.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { ValueChip } from '../chips/ValueChip.tsx';
import { useModel } from '../state/model.ts';
import { useApp, useHome, useStudio } from '../state/studio.ts';
import { toastWithUndo } from '../state/undo-toast.ts';
import { Button } from '../ui/controls.tsx';
import { NameField } from '../ui/NameField.tsx';
import { Menu } from '../ui/popover.tsx';
import { AddInside } from './AddInside.tsx';
import { OpenTo } from './OpenTo.tsx';
import { BoxControls } from './BoxControls.tsx';
import { opensAlone } from './WaysDesk.tsx';
import { ICON_CHOICES } from './properties.ts';

const WeightView = lazy(() => import('../strain/WeightView.tsx'));
const StrainView = lazy(() => import('../strain/StrainView.tsx'));

/** A screen in sentences: what it is given, whether it is a tab, how its content runs. */
export function ScreenDesk({ screen }: { screen: Screen }) {
  const app = useApp();
  const model = useModel();
  const edit = useStudio((s) => s.edit);
  const home = useHome();
  const navigate = useNavigate();
  const [strain, setStrain] = useState(false);
  const [weight, setWeight] = useState(false);
  const tab = app.tabs.findIndex((t) => t.screen === screen.id);
  const change = (label: string, recipe: (s: Screen) => void): void =>
    void edit(label, (a) => {
      recipe(a.screens.find((s) => s.id === screen.id)! as Screen);
    });
  const remove = (): void => {
    const uses = usesOf(app, [screen.id]);
    void edit(`Removed the screen ${screen.name}`, (a) => removeScreen(a, screen.id));
    toastWithUndo(`Removed ${screen.name}.${uses.length ? ` It was used by ${usesInWords(uses)}.` : ''}`);
    void navigate(`${home}/screens`);
  };
  const copy = (): void => {
    let id = '';
    void edit(`Copied the screen ${screen.name}`, (a) => {
      id = duplicateScreen(a, screen.id)?.id ?? '';
    }).then(() => navigate(`${home}/screens/${id}`));
  };
  return (
    <>
      <header className="mb-3 flex items-center gap-3">
        <h1 className="min-w-0 flex-1 text-xl">
          <NameField
            value={screen.name}
            label="Name of the screen"
            onChange={(n) =>
              void edit(`Renamed ${screen.name} to ${n}`, (a) => {
                renameScreen(a, screen.id, n);
              })
            }
            className="truncate"
          />
        </h1>
        <Menu
          align="end"
          trigger={<Button aria-label="More for this screen" icon={MoreHorizontal} />}
          items={[
            { label: 'See it under strain', icon: Gauge, run: () => setStrain(true) },
            { label: 'What it weighs', icon: Weight, run: () => setWeight(true) },
            { label: 'Make a copy', icon: Copy, run: copy },
            { label: 'Remove this screen', icon: Trash2, danger: true, run: remove },
          ]}
        />
        <AddInside screen={screen} at={screen.root} inside main />
      </header>
      {weight && (
        <Suspense fallback={null}>
          <WeightView screen={screen} onClose={() => setWeight(false)} />
        </Suspense>
      )}
      {strain && (
        <Suspense fallback={null}>
          <StrainView screen={screen} onClose={() => setStrain(false)} />
        </Suspense>
      )}
      <section className="card sentence mb-3.5 px-4 py-3">
        <p>
          It opens with{' '}
          <ChoiceChip
            name="Record"
            tone={screen.given ? 'data' : 'plain'}
            value={screen.given ?? ''}
            choices={[
              { value: '', label: 'no record' },
              ...app.tables.map((t) => ({ value: t.id, label: aOrAn(t.one) })),
            ]}
            onChange={(v) =>
              change(`${screen.name} opens with another record`, (s) => {
                s.given = v || null;
              })
            }
          />
          {screen.given && (
            <>
              {' '}
              and{' '}
              <ChoiceChip
                name="Needed"
                value={screen.optional ?? false}
                choices={[
                  { value: false, label: 'cannot open without one' },
                  { value: true, label: 'opens without one too' },
                ]}
                onChange={(v) =>
                  change(`${screen.name} ${v ? 'opens without a record too' : 'needs a record'}`, (s) => {
                    s.optional = v;
                  })
                }
              />
              . Opened by its address alone, it shows{' '}
              <ValueChip
                name="Opened by address"
                value={screen.finds ?? ''}
                empty={screen.optional ? 'no record' : 'a note that it is missing'}
                optional
                literals={false}
                wanted={{ records: screen.given }}
                place={{ self: null, things: variablesAt(model, screen.id) }}
                onChange={(finds) =>
                  change(`${screen.name} finds its record`, (s) => {
                    if (finds) s.finds = finds;
                    else delete s.finds;
                  })
                }
              />
            </>
          )}
          .
        </p>
        <p>
          In the tab bar it is{' '}
          <ChoiceChip
            name="In the tab bar"
            value={tab >= 0}
            choices={[
              { value: true, label: `tab ${tab >= 0 ? tab + 1 : app.tabs.length + 1}` },
              { value: false, label: 'not shown' },
            ]}
            onChange={(on) => {
              if (on && !opensAlone(screen)) {
                toast(`A tab opens without a record, and ${screen.name} needs one.`);
                return;
              }
              void edit(on ? `Made ${screen.name} a tab` : `Took ${screen.name} off the tab bar`, (a) => {
                a.tabs = on
                  ? tab < 0
                    ? [...a.tabs, { screen: screen.id, name: screen.name, icon: screen.icon }]
                    : a.tabs
                  : a.tabs.filter((t) => t.screen !== screen.id);
              });
            }}
          />{' '}
          with the icon{' '}
          <ChoiceChip
            name="Icon"
            value={screen.icon}
            choices={ICON_CHOICES}
            onChange={(icon) =>
              void edit(`Gave ${screen.name} another icon`, (a) => {
                a.screens.find((s) => s.id === screen.id)!.icon = icon;
                const t = a.tabs.find((x) => x.screen === screen.id);
                if (t) t.icon = icon;
              })
            }
          />
          .
        </p>
        <OpenTo screen={screen} />
      </section>
      <BoxControls element={screen.root} screen={screen} />
    </>
  );
}

import { AppWindow, Component, Map as MapIcon, Palette, PanelLeft, Plus, Rocket, Smartphone } from 'lucide-react';
import { Fragment, lazy, Suspense, useCallback, useEffect, useMemo, useState, type ComponentType } from 'react';
import { useNavigate, useParams } from 'react-router';
import { addScreen, elementOf } from '../../core/app/edits.ts';
import { aboutOf } from '../../core/app/about.ts';
import type { Screen } from '../../core/app/schema.ts';
import { themeOf } from '../../core/app/themes.ts';
import { freeName } from '../../core/document/names.ts';
import { Index, IndexGroup, IndexItem } from '../shell/Index.tsx';
import { usePhone } from '../state/phone.ts';
import { useApp, useEngine, useHome, useStudio } from '../state/studio.ts';
import { Button, Empty } from '../ui/controls.tsx';
import { ElementDesk } from './ElementDesk.tsx';
import { FieldsGroup } from './FieldsGroup.tsx';
import { Outline } from './Outline.tsx';
import { PartDesk } from './PartDesk.tsx';
import { SeveralDesk } from './SeveralDesk.tsx';
import { useElementKeys } from './useElementKeys.ts';
import { ScreenDesk } from './ScreenDesk.tsx';
import { ThemeDesk } from '../look/ThemeDesk.tsx';
import { VariableDesk } from '../variables/VariableDesk.tsx';
import { VariablesGroup } from '../variables/VariablesGroup.tsx';
import { DrawerDesk, StartDesk, TabsDesk } from './WaysDesk.tsx';

// The map has a package of its own, which comes when it is opened.
const MapView = lazy(async () => ({ default: (await import('../map/MapView.tsx')).MapView }));

/** Desks of what belongs to the whole app, by their place in the address. */
const WHOLE: Record<string, ComponentType> = { tabs: TabsDesk, drawer: DrawerDesk, start: StartDesk, theme: ThemeDesk };

/** From more screens on they can be looked for by name. */
const MANY = 8;

/** The Screens workspace: screens with their elements, and the selected one in sentences. */
export function ScreensView() {
  const app = useApp();
  const engine = useEngine();
  const edit = useStudio((s) => s.edit);
  const home = useHome();
  const phone = usePhone();
  const navigate = useNavigate();
  const { thing, part: elementId } = useParams();
  const WholeDesk = thing ? WHOLE[thing] : undefined;
  const variable = app.variables?.find((v) => v.id === thing);
  const part = app.parts?.find((x) => x.id === thing);
  const screen =
    part ??
    app.screens.find((s) => s.id === thing) ??
    (WholeDesk || thing === 'map'
      ? null
      : variable?.screen
        ? app.screens.find((s) => s.id === variable.screen)
        : (app.screens.find((s) => s.id === app.tabs[0]?.screen) ?? app.screens[0]));
  const element = screen && elementId ? elementOf(app, elementId) : null;
  const base = `${home}/screens`;

  // The phone follows the screen that is worked on; a screen that needs a record gets the first one.
  useEffect(() => {
    if (!screen || usePhone.getState().place?.screen === screen.id) return;
    let current = true;
    void (async () => {
      const record =
        screen.given && !screen.optional ? ((await engine.looking.recordIds(screen.given, 1))[0] ?? null) : null;
      if (current) phone.go({ screen: screen.id, record });
    })();
    return () => {
      current = false;
    };
  }, [screen?.id, engine]);
  useEffect(() => {
    phone.select(element?.id ?? null);
  }, [element?.id]);
  useEffect(() => {
    if (elementId) phone.setMode('arrange');
  }, [elementId]);

  const open = useCallback(
    (id: string | null) => {
      if (screen) void navigate(`${base}/${screen.id}${id ? `/${id}` : ''}`);
    },
    [base, screen?.id, navigate],
  );
  useElementKeys(screen, open);
  const [looked, setLooked] = useState('');
  const wanted = looked.trim().toLowerCase();
  // Many screens are grouped by what they are about.
  const groups = useMemo(() => (app.screens.length > MANY ? aboutOf(app) : null), [app]);
  const order = [...new Set(groups?.values())];
  const at = (s: Screen): number => order.indexOf(groups?.get(s.id) ?? '');
  // The screen that is open stays in the list.
  const found = app.screens
    .filter((s) => s.id === screen?.id || s.name.toLowerCase().includes(wanted))
    .sort((a, b) => at(a) - at(b));
  const several = phone.several.filter((id) => elementOf(app, id));

  const add = (): void => {
    const name = freeName(
      'New screen',
      app.screens.map((s) => s.name),
    );
    let id = '';
    void edit(`Added the screen ${name}`, (a) => {
      id = addScreen(a, name).id;
    }).then(() => navigate(`${base}/${id}`));
  };
  return (
    <>
      <Index label="Screens">
        <IndexGroup title="Screens" onAdd={add} addLabel="Add a screen">
          {app.screens.length > MANY && (
            <li className="mb-1 px-1">
              <input
                type="search"
                className="field h-7 w-full"
                placeholder="Find a screen"
                aria-label="Find a screen"
                value={looked}
                onChange={(e) => setLooked(e.target.value)}
              />
            </li>
          )}
          {found.length === 0 && <li className="px-2 py-1.5 text-sm text-ink-faint">No screen is called that.</li>}
          {found.map((s, i) => (
            <Fragment key={s.id}>
              {groups && groups.get(s.id) !== groups.get(found[i - 1]?.id ?? '') && (
                <li className="mt-2 mb-0.5 truncate px-2 text-xs font-semibold text-ink-faint first:mt-0">
                  {groups.get(s.id)}
                </li>
              )}
              <IndexItem
                to={`${base}/${s.id}`}
                icon={Smartphone}
                name={s.name}
                hint={s.id === app.tabs[0]?.screen ? 'start' : undefined}
                selected={s.id === screen?.id && !element && !variable}
              />
              {s.id === screen?.id && <Outline screen={s} selected={element?.id ?? null} base={base} />}
              {s.id === screen?.id && <FieldsGroup screen={s} at={element ?? s.root} open={open} />}
            </Fragment>
          ))}
        </IndexGroup>
        {(app.parts?.length ?? 0) > 0 && (
          <IndexGroup title="Parts">
            {app.parts!.map((x) => (
              <Fragment key={x.id}>
                <IndexItem
                  to={`${base}/${x.id}`}
                  icon={Component}
                  name={x.name}
                  selected={x.id === part?.id && !element}
                />
                {x.id === part?.id && <Outline screen={x} selected={element?.id ?? null} base={base} />}
              </Fragment>
            ))}
          </IndexGroup>
        )}
        <IndexGroup title="The whole app">
          <IndexItem
            to={`${base}/map`}
            icon={MapIcon}
            name="Map"
            hint={`${app.screens.length} ${app.screens.length === 1 ? 'screen' : 'screens'}`}
            selected={thing === 'map'}
          />
          <IndexItem
            to={`${base}/tabs`}
            icon={AppWindow}
            name="Tab bar"
            hint={`${app.tabs.length} ${app.tabs.length === 1 ? 'tab' : 'tabs'}`}
            selected={thing === 'tabs'}
          />
          <IndexItem
            to={`${base}/drawer`}
            icon={PanelLeft}
            name="Side drawer"
            hint={app.drawer ? `${app.drawer.ways.length}` : 'none'}
            selected={thing === 'drawer'}
          />
          <IndexItem
            to={`${base}/start`}
            icon={Rocket}
            name="Start"
            hint={app.starts ? 'a screen before' : 'first tab'}
            selected={thing === 'start'}
          />
          <IndexItem
            to={`${base}/theme`}
            icon={Palette}
            name="Theme"
            hint={themeOf(app.look.theme).name}
            selected={thing === 'theme'}
          />
        </IndexGroup>
        <VariablesGroup base={base} selected={thing} screen={screen} />
      </Index>
      {thing === 'map' ? (
        <main className="min-w-0 flex-1 bg-paper">
          <Suspense fallback={<p className="p-6 text-ink-soft">One moment</p>}>
            <MapView />
          </Suspense>
        </main>
      ) : (
        <main className="thin-scroll min-w-0 flex-1 overflow-auto px-6 py-5">
          <div className="mx-auto max-w-[760px]">
            {WholeDesk ? (
              <WholeDesk />
            ) : variable ? (
              <VariableDesk key={variable.id} variable={variable} base={base} />
            ) : !screen ? (
              <Empty
                title="No screen yet"
                words="A screen is one view of the phone. The first screen is where the app starts."
              >
                <Button look="main" icon={Plus} onClick={add}>
                  Add a screen
                </Button>
              </Empty>
            ) : several.length > 1 ? (
              <SeveralDesk ids={several} screen={screen} open={open} />
            ) : element && element.id !== screen.root.id ? (
              <ElementDesk key={element.id} screen={screen} element={element} />
            ) : part ? (
              <PartDesk key={part.id} part={part} />
            ) : (
              <ScreenDesk key={screen.id} screen={screen} />
            )}
          </div>
        </main>
      )}
    </>
  );
}

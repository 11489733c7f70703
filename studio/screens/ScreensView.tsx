import { AppWindow, Plus, Smartphone } from 'lucide-react';
import { Fragment, useEffect, useState, type DragEvent, type KeyboardEvent } from 'react';
import { useNavigate, useParams } from 'react-router';
import { addScreen, elementOf, insideOf, moveElement, removeElement, shiftElement } from '../../core/app/edits.ts';
import { freeName } from '../../core/document/names.ts';
import type { Element, Screen } from '../../core/app/schema.ts';
import { Index, IndexGroup, IndexItem } from '../shell/Index.tsx';
import { usePhone } from '../state/phone.ts';
import { useApp, useEngine, useStudio } from '../state/studio.ts';
import { Button, Empty } from '../ui/controls.tsx';
import { ElementDesk } from './ElementDesk.tsx';
import { elementName } from '../../core/app/names.ts';
import { thumbnailOf } from './thumbnails.ts';
import { ScreenDesk } from './ScreenDesk.tsx';
import { TabsDesk } from './TabsDesk.tsx';

/** The Screens workspace: screens with their elements, and the selected one in sentences. */
export function ScreensView() {
  const app = useApp();
  const engine = useEngine();
  const edit = useStudio((s) => s.edit);
  const kept = useStudio((s) => s.kept);
  const phone = usePhone();
  const navigate = useNavigate();
  const { thing, part } = useParams();
  const screen =
    app.screens.find((s) => s.id === thing) ??
    (thing === 'tabs' ? null : (app.screens.find((s) => s.id === app.tabs[0]?.screen) ?? app.screens[0]));
  const element = screen && part ? elementOf(app, part) : null;
  const base = `/app/${kept!.id}/screens`;

  // The phone follows the screen that is worked on; a screen that needs a record gets the first one.
  useEffect(() => {
    if (!screen || usePhone.getState().place?.screen === screen.id) return;
    let current = true;
    void (async () => {
      const record = screen.given && !screen.optional ? ((await engine.recordIds(screen.given, 1))[0] ?? null) : null;
      if (current) phone.go({ screen: screen.id, record });
    })();
    return () => {
      current = false;
    };
  }, [screen?.id, engine]); // eslint-disable-line react-hooks/exhaustive-deps
  useEffect(() => {
    phone.select(element?.id ?? null);
  }, [element?.id]); // eslint-disable-line react-hooks/exhaustive-deps
  useEffect(() => {
    if (part) phone.setMode('arrange');
  }, [part]); // eslint-disable-line react-hooks/exhaustive-deps

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
          {app.screens.map((s) => (
            <Fragment key={s.id}>
              <IndexItem
                to={`${base}/${s.id}`}
                icon={Smartphone}
                name={s.name}
                hint={s.id === app.tabs[0]?.screen ? 'start' : undefined}
                selected={s.id === screen?.id && !element}
              />
              {s.id === screen?.id && <Outline screen={s} selected={element?.id ?? null} base={base} />}
            </Fragment>
          ))}
        </IndexGroup>
        <IndexGroup title="Frames">
          <IndexItem
            to={`${base}/tabs`}
            icon={AppWindow}
            name="Tab bar"
            hint={`${app.tabs.length} ${app.tabs.length === 1 ? 'tab' : 'tabs'}`}
            selected={thing === 'tabs'}
          />
        </IndexGroup>
      </Index>
      <main className="thin-scroll min-w-0 flex-1 overflow-auto px-6 py-5">
        <div className="mx-auto max-w-[760px]">
          {thing === 'tabs' ? (
            <TabsDesk />
          ) : !screen ? (
            <Empty
              title="No screen yet"
              words="A screen is one view of the phone. The first screen is where the app starts."
            >
              <Button look="main" icon={Plus} onClick={add}>
                Add a screen
              </Button>
            </Empty>
          ) : element && element.id !== screen.root.id ? (
            <ElementDesk key={element.id} screen={screen} element={element} />
          ) : (
            <ScreenDesk key={screen.id} screen={screen} />
          )}
        </div>
      </main>
    </>
  );
}

/** The elements of a screen, as an outline that can be dragged and moved by keyboard. */
function Outline({ screen, selected, base }: { screen: Screen; selected: string | null; base: string }) {
  const app = useApp();
  const edit = useStudio((s) => s.edit);
  const navigate = useNavigate();
  const [over, setOver] = useState<{ id: string; where: 'before' | 'after' | 'inside' } | null>(null);

  const onKeyDown = (e: KeyboardEvent, element: Element): void => {
    if (e.altKey && (e.key === 'ArrowUp' || e.key === 'ArrowDown')) {
      e.preventDefault();
      void edit(`Moved ${elementName(app, element)}`, (a) => shiftElement(a, element.id, e.key === 'ArrowUp' ? -1 : 1));
    } else if (e.key === 'Delete') {
      e.preventDefault();
      void edit(`Removed ${elementName(app, element)}`, (a) => removeElement(a, element.id)).then(() =>
        navigate(`${base}/${screen.id}`),
      );
    }
  };
  const whereOf = (e: DragEvent, element: Element): 'before' | 'after' | 'inside' => {
    const box = e.currentTarget.getBoundingClientRect();
    const share = (e.clientY - box.top) / box.height;
    return insideOf(element) && share > 0.3 && share < 0.75 ? 'inside' : share < 0.5 ? 'before' : 'after';
  };
  const draw = (list: readonly Element[], depth: number): React.ReactNode =>
    list.map((e) => (
      <Fragment key={e.id}>
        <IndexItem
          className={
            over?.id === e.id
              ? over.where === 'inside'
                ? 'rounded-control ring-2 ring-persimmon'
                : over.where === 'before'
                  ? 'shadow-[0_-2px_0_var(--color-persimmon)]'
                  : 'shadow-[0_2px_0_var(--color-persimmon)]'
              : undefined
          }
          to={`${base}/${screen.id}/${e.id}`}
          icon={thumbnailOf(e.kind, e)}
          name={elementName(app, e)}
          selected={e.id === selected}
          depth={depth}
          tone="inner"
          draggable
          onDragStart={(ev) => {
            ev.dataTransfer.setData('text/element', e.id);
            ev.stopPropagation();
          }}
          onDragOver={(ev) => {
            ev.preventDefault();
            ev.stopPropagation();
            setOver({ id: e.id, where: whereOf(ev, e) });
          }}
          onDrop={(ev) => {
            ev.preventDefault();
            ev.stopPropagation();
            const id = ev.dataTransfer.getData('text/element');
            const where = whereOf(ev, e);
            setOver(null);
            if (id) void edit('Moved an element', (a) => moveElement(a, id, e.id, where));
          }}
          onKeyDown={(ev) => onKeyDown(ev, e)}
        />
        {(insideOf(e)?.length ?? 0) > 0 && (
          <li>
            <ul>{draw(insideOf(e)!, depth + 1)}</ul>
          </li>
        )}
      </Fragment>
    ));
  return (
    <li onDragEnd={() => setOver(null)}>
      <ul>{draw(screen.root.children, 1)}</ul>
    </li>
  );
}

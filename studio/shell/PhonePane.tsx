import { useCallback, useEffect, useRef, useState } from 'react';
import { BatteryFull, Moon, PanelRightClose, Smartphone, Sun, Wifi } from 'lucide-react';
import { useLocation, useNavigate, useParams } from 'react-router';
import { Player } from '../../player/Player.tsx';
import type { NewPlace } from '../../core/phone/places.ts';
import type { ScreenStore } from '../../player/screen-store.ts';
import { elementOf, placeOf } from '../../core/app/edits.ts';
import { elementName } from '../../core/app/names.ts';
import { ownerOf } from '../../core/screens/part-places.ts';
import { usePhone } from '../state/phone.ts';
import { phoneDrew, useHome, useStudio } from '../state/studio.ts';
import { say } from '../state/trace.ts';
import { Button, IconButton, Segmented } from '../ui/controls.tsx';
import { Menu } from '../ui/popover.tsx';
import { ArrangeOverlay } from './ArrangeOverlay.tsx';
import { selectorOf } from './drawn.ts';
import { frameSeen } from './frame-seen.ts';
import { ABILITIES, StandIns } from './StandIns.tsx';
import { PersonButton } from './PersonButton.tsx';

const SIZES = [
  [390, 844, 'Usual'],
  [360, 640, 'Small'],
  [430, 932, 'Large'],
  [820, 1180, 'Tablet'],
  [1280, 800, 'Laptop'],
] as const;

/** The live phone: the real player on the real records, in every workspace. */
export function PhonePane() {
  const frame = useStudio((s) => s.app && frameSeen(s.app));
  const api = useStudio((s) => s.phone);
  const walk = useStudio((s) => s.walk);
  const persona = useStudio((s) => s.persona);
  const home = useHome();
  const phone = usePhone();
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const { workspace } = useParams();
  const stage = useRef<HTMLDivElement>(null);
  const screen = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState({ width: 320, height: 640 });
  const [drawn, setDrawn] = useState(0);
  /** The title of the screen when nothing stands on it. */
  const [empty, setEmpty] = useState<string | null>(null);

  useEffect(() => {
    if (!stage.current) return;
    const watch = new ResizeObserver(
      ([e]) => e && setRoom({ width: e.contentRect.width, height: e.contentRect.height }),
    );
    watch.observe(stage.current);
    return () => watch.disconnect();
  }, []);

  const onWhere = useCallback((place: NewPlace, store: ScreenStore) => {
    const before = usePhone.getState().place;
    phone.setPlace(place);
    if (before?.screen === place.screen && before.record === place.record) return;
    const name = useStudio.getState().app?.screens.find((s) => s.id === place.screen)?.name ?? 'a screen';
    let records = 0;
    for (const node of store.all()) if (typeof node['total'] === 'number') records += node['total'];
    say({
      said: `Opened ${name}${records ? `, ${records.toLocaleString('en-GB')} ${records === 1 ? 'record' : 'records'}` : ''}`,
      tone: 'plain',
      about: { screen: place.screen },
    });
  }, []);
  const onDrawn = useCallback((store: ScreenStore) => {
    const frame = store.shown();
    const root = frame && store.node(frame.root);
    phoneDrew();
    setDrawn((n) => n + 1);
    setEmpty(root && !frame.missing && (root['children'] as string[]).length === 0 ? frame.title : null);
  }, []);

  // What is selected in the outline is brought into view on the phone.
  const { selected } = phone;
  const brought = useRef<string | null>(null);
  useEffect(() => {
    // Once for each: whoever scrolls on afterwards is left alone.
    if (selected === brought.current) return;
    const shown = selected ? screen.current?.querySelector(selectorOf(selected)) : null;
    if (selected && !shown && openLeaf(screen.current, selected)) setDrawn((n) => n + 1);
    const scroller = shown?.closest('.k-scroll');
    if (!shown || !scroller) return;
    brought.current = selected;
    const [at, view] = [shown.getBoundingClientRect(), scroller.getBoundingClientRect()];
    if (at.top >= view.top && at.top < view.bottom - 40) return;
    const scale = view.height / scroller.clientHeight || 1;
    scroller.scrollBy({ top: (at.top - view.top) / scale - 60 });
  }, [selected, drawn]);

  const onTap = useCallback((id: string) => {
    const now = useStudio.getState().app;
    const behind = ownerOf(id);
    const element = now && elementOf(now, behind);
    const screen = now && placeOf(now, behind)?.screen;
    if (now && element && screen)
      say({
        said: `Tapped ${elementName(now, element)} on ${screen.name}`,
        tone: 'plain',
        about: { screen: screen.id, element: id },
      });
  }, []);

  if (!frame || !api || !walk) return null;
  const palette = frame.look[phone.dark ? 'dark' : 'light'];
  const [w, h] = phone.size;
  const scale = Math.min(1, (room.width - 16) / (w + 16), (room.height - 16) / (h + 16));
  const select = (id: string | null): void => {
    const at = `${home}/screens/${phone.place?.screen ?? ''}${id ? `/${id}` : ''}`;
    if (pathname !== at) void navigate(at);
  };

  return (
    <aside
      aria-label="Phone"
      className="flex w-[372px] shrink-0 flex-col border-l border-line bg-sunk max-[1100px]:w-[300px]"
    >
      <div className="flex h-[54px] shrink-0 items-center justify-between gap-2 px-3.5">
        <Segmented
          label="The phone is for"
          value={phone.mode}
          options={[
            ['arrange', 'Arrange'],
            ['use', 'Use'],
          ]}
          onChange={phone.setMode}
        />
        <div className="flex items-center gap-1">
          <PersonButton />
          <IconButton
            icon={phone.dark ? Sun : Moon}
            label={phone.dark ? 'Show in light colours' : 'Show in dark colours'}
            onClick={phone.toggleDark}
          />
          <Menu
            align="end"
            trigger={<Button icon={Smartphone} small aria-label={`Size of the phone: ${w} × ${h}`} />}
            items={[
              ...SIZES.map(([sw, sh, name]) => ({
                label: name,
                hint: `${sw} × ${sh}`,
                run: () => phone.setSize([sw, sh]),
              })),
              { label: 'Turn it', hint: `${h} × ${w}`, run: () => phone.setSize([h, w]) },
              null,
              ...ABILITIES.map(([ability, name]) => ({
                label: name,
                hint: phone.lacks.includes(ability) ? 'missing' : 'there',
                run: () => phone.toggleLack(ability),
              })),
            ]}
          />
          <IconButton icon={PanelRightClose} label="Fold the phone away (P)" onClick={phone.toggleFolded} />
        </div>
      </div>
      <div ref={stage} className="relative min-h-0 flex-1 overflow-hidden px-3 pb-4">
        <div
          className="absolute top-0 left-1/2 origin-top rounded-[46px] bg-ink p-2 shadow-[0_18px_50px_rgb(31_46_42/0.28)]"
          style={{ width: w + 16, height: h + 16, transform: `translateX(-50%) scale(${scale})` }}
        >
          <div
            className="flex h-full flex-col overflow-hidden rounded-[38px]"
            style={{ background: palette.ground }}
            data-phone-mode={phone.mode}
          >
            <div
              aria-hidden
              className="flex h-10 shrink-0 items-center justify-between px-7 pt-1 text-[13px] font-semibold"
              style={{ color: palette.ink }}
            >
              <Clock />
              <span className="flex items-center gap-1.5">
                <Wifi size={14} />
                <BatteryFull size={17} />
              </span>
            </div>
            <div ref={screen} className="relative min-h-0 flex-1 font-normal [font-size:16px]">
              <Player
                key={persona?.id ?? ''}
                api={api}
                walk={walk}
                frame={frame}
                dark={phone.dark}
                show={phone.show}
                onWhere={onWhere}
                onDrawn={onDrawn}
                onTap={onTap}
                standIn={StandIns}
              />
              {empty !== null && (
                <p
                  className="pointer-events-none absolute inset-x-8 top-1/3 text-center text-[15px] text-balance"
                  style={{ color: palette.soft }}
                >
                  {empty} is empty. Add something to it in Screens, or make screens for a table in Data.
                </p>
              )}
              {phone.mode === 'arrange' && (
                <ArrangeOverlay
                  host={screen}
                  drawn={drawn}
                  scale={scale}
                  selected={workspace === 'screens' ? phone.selected : null}
                  onSelect={select}
                />
              )}
            </div>
          </div>
        </div>
      </div>
    </aside>
  );
}

/** An element on a leaf that is not seen has that leaf chosen by its tab. Was there one to choose? */
function openLeaf(phone: HTMLElement | null, id: string): boolean {
  const { app } = useStudio.getState();
  if (!app) return false;
  let opened = false;
  for (let at: string | undefined = id; at; at = placeOf(app, at)?.parent?.id) {
    const tab = phone?.querySelector<HTMLElement>(`[data-leaf="${CSS.escape(at)}"][aria-selected=false]`);
    tab?.click();
    opened ||= Boolean(tab);
  }
  return opened;
}

function Clock() {
  const [now, setNow] = useState(() => new Date());
  useEffect(() => {
    const t = setInterval(() => setNow(new Date()), 20_000);
    return () => clearInterval(t);
  }, []);
  return <span>{`${now.getHours()}:${String(now.getMinutes()).padStart(2, '0')}`}</span>;
}

import { useQuery } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { EyeOff, MoreHorizontal, Power, UserRound, Wifi, WifiLow, WifiOff } from 'lucide-react';
import { useCallback, useMemo, useState } from 'react';
import type { App } from '../../core/app/schema.ts';
import { isShut } from '../../core/rehearsal/cast.ts';
import type { PhoneState } from '../../core/rehearsal/rehearsed-phone.ts';
import type { Network } from '../../core/world/network.ts';
import { Player } from '../../player/Player.tsx';
import type { StandIn } from '../../player/api.ts';
import { frameSeen } from '../shell/frame-seen.ts';
import { ABILITIES, StandIns } from '../shell/StandIns.tsx';
import { WhyNotHere } from '../shell/WhyNotHere.tsx';
import { Button, IconButton } from '../ui/controls.tsx';
import { Menu, Popover } from '../ui/popover.tsx';
import { FRAME } from './arranged.ts';
import { PointHere } from './PointHere.tsx';
import { NEW_LOOKS, phoneOf, useRoom } from './room.ts';

const SIZES = [
  [390, 844, 'Usual'],
  [360, 640, 'Small'],
  [430, 932, 'Large'],
  [820, 1180, 'Tablet'],
] as const;
const NETWORKS: [Network, string, string][] = [
  ['on', 'Network on', 'all arrives at once'],
  ['slow', 'Slow network', 'up to 4 s each way'],
  ['off', 'No network', 'nothing arrives'],
  ['answers lost', 'Answers get lost', 'what is sent arrives'],
  ['twice', 'All arrives twice', ''],
];
const MINUTE = 60_000;
const CLOCKS: [off: number, name: string][] = [
  [0, 'Its clock is right'],
  [10 * MINUTE, 'Its clock is 10 min ahead'],
  [-120 * MINUTE, 'Its clock is 2 h behind'],
];

/** One phone of the room, with who uses it above. */
export function RoomPhone({ phone, app, scale }: { phone: PhoneState; app: App; scale: number }) {
  const engine = useRoom((s) => s.engine)!;
  const looks = useRoom((s) => s.looks[phone.id] ?? NEW_LOOKS);
  const look = useRoom((s) => s.look);
  const remove = useRoom((s) => s.remove);
  const expecting = useRoom((s) => s.expecting);
  const now = useRoom((s) => s.state!.now) + phone.off;
  const { id, openings } = phone;
  const { api, walk } = phoneOf(engine, id, openings);
  const frame = frameSeen(app);
  const { dark, lacks, rtl, zoom } = looks;
  const [w, h] = looks.size;
  const palette = frame.look[dark ? 'dark' : 'light'];
  // Whoever has not signed in gets no further than the page where one does.
  const shut = isShut(app, { state: phone });
  const standIn = useCallback<StandIn>((props) => <StandIns {...props} of={{ api, lacks }} />, [api, lacks]);
  const does = (what: Parameters<typeof engine.phone>[1]): void => void engine.phone(id, what);
  const NetworkIcon = phone.network === 'off' ? WifiOff : phone.network === 'on' ? Wifi : WifiLow;
  const items = useMemo(
    () => [
      ...SIZES.map(([sw, sh, name]) => ({
        label: name,
        hint: sw === w && sh === h ? 'now' : `${sw} × ${sh}`,
        run: () => look(id, { size: [sw, sh] }),
      })),
      { label: 'Turn it', hint: `${h} × ${w}`, run: () => look(id, { size: [h, w] }) },
      null,
      { label: dark ? 'Light colours' : 'Dark colours', hint: '', run: () => look(id, { dark: !dark }) },
      { label: rtl ? 'Left to right' : 'Right to left', hint: '', run: () => look(id, { rtl: !rtl }) },
      ...[1, 1.25, 1.5].map((z) => ({
        label: z === 1 ? 'Usual letters' : `Letters at ${z * 100} %`,
        hint: z === zoom ? 'now' : '',
        run: () => look(id, { zoom: z }),
      })),
      null,
      ...CLOCKS.map(([off, label]) => ({ label, hint: off === phone.off ? 'now' : '', run: () => does({ off }) })),
      null,
      ...ABILITIES.slice(0, 3).map(([ability, name]) => ({
        label: name,
        hint: lacks.includes(ability) ? 'missing' : 'there',
        run: () =>
          look(id, { lacks: lacks.includes(ability) ? lacks.filter((a) => a !== ability) : [...lacks, ability] }),
      })),
      null,
      phone.isOpen
        ? { label: 'Its battery is empty', hint: 'off at once', run: () => does({ open: false }) }
        : { label: 'Open the app again', hint: '', run: () => does({ open: true }) },
      { label: 'Put the phone away', hint: '', danger: true, run: () => void remove(id) },
    ],
    [phone, looks, engine],
  );
  return (
    <section aria-label={`The phone of ${phone.name}`} style={{ width: (w + 2 * FRAME) * scale }}>
      <div className="flex h-[34px] items-center gap-1">
        <span className="flex min-w-0 items-center gap-1.5 rounded-md bg-dusk-wash px-2 py-[3px] text-sm font-semibold text-dusk">
          <UserRound size={13} aria-hidden className="shrink-0" />
          <span className="truncate">{phone.name}</span>
        </span>
        {phone.waiting > 0 && (
          <span
            className="shrink-0 rounded-md bg-saffron-wash px-1.5 py-[3px] text-xs text-saffron"
            title="Waits to be sent"
          >
            {phone.waiting} to send
          </span>
        )}
        <span className="ml-auto flex shrink-0 items-center">
          {app.access && (
            <Popover
              align="end"
              trigger={<IconButton icon={EyeOff} label={`Why is something not on the phone of ${phone.name}?`} />}
            >
              {(close) => <NotHere phone={phone} app={app} close={close} />}
            </Popover>
          )}
          <Menu
            align="end"
            trigger={
              <button
                type="button"
                aria-label={`Network of ${phone.name}: ${NETWORKS.find(([n]) => n === phone.network)![1]}`}
                className={clsx(
                  'grid size-7 place-items-center rounded-control hover:bg-raised',
                  phone.network === 'on' ? 'text-ink-soft' : 'text-persimmon-deep',
                )}
              >
                <NetworkIcon size={16} aria-hidden />
              </button>
            }
            items={NETWORKS.map(([network, label, hint]) => ({
              label,
              hint: network === phone.network ? 'now' : hint,
              run: () => does({ network }),
            }))}
          />
          <Menu
            align="end"
            trigger={
              <button
                type="button"
                aria-label={`More about the phone of ${phone.name}`}
                className="grid size-7 place-items-center rounded-control text-ink-soft hover:bg-raised"
              >
                <MoreHorizontal size={16} aria-hidden />
              </button>
            }
            items={items}
          />
        </span>
      </div>
      <div style={{ height: (h + 2 * FRAME) * scale }}>
        <div
          className="origin-top-left rounded-[46px] bg-ink p-2 shadow-[0_12px_34px_rgb(31_46_42/0.24)]"
          style={{ width: w + 2 * FRAME, height: h + 2 * FRAME, transform: `scale(${scale})` }}
        >
          <div
            className="flex h-full flex-col overflow-hidden rounded-[38px]"
            style={{ background: phone.isOpen ? palette.ground : '#14211d' }}
          >
            {shut ? (
              <SignInHere id={id} app={app} palette={palette} />
            ) : phone.isOpen ? (
              <>
                <div
                  aria-hidden
                  className="flex h-10 shrink-0 items-center justify-between px-7 pt-1 text-[13px] font-semibold"
                  style={{ color: palette.ink }}
                >
                  <span className="tabular-nums">
                    {new Date(now).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })}
                  </span>
                  <NetworkIcon size={14} />
                </div>
                <div className="relative min-h-0 flex-1 font-normal [font-size:16px]" dir={rtl ? 'rtl' : undefined}>
                  <div
                    className="absolute top-0 left-0 origin-top-left"
                    style={{ width: `${100 / zoom}%`, height: `${100 / zoom}%`, transform: `scale(${zoom})` }}
                  >
                    <Player key={openings} api={api} walk={walk} frame={frame} dark={dark} standIn={standIn} />
                  </div>
                  {expecting && <PointHere phone={id} />}
                </div>
              </>
            ) : (
              <div className="grid h-full place-content-center gap-4 text-center text-[17px] text-[#C9D3CE]">
                <Power size={40} aria-hidden className="mx-auto" />
                The phone is off.
                <Button look="main" onClick={() => does({ open: true })}>
                  Open the app again
                </Button>
              </div>
            )}
          </div>
        </div>
      </div>
    </section>
  );
}

function NotHere({ phone, app, close }: { phone: PhoneState; app: App; close(): void }) {
  const engine = useRoom((s) => s.engine)!;
  const { data } = useQuery({
    queryKey: ['room sees', phone.id, phone.person],
    queryFn: () => engine.whySees(phone.person),
    gcTime: 0,
    staleTime: 0,
  });
  if (!data) return <p className="p-3.5 text-ink-soft">Looking</p>;
  return (
    <div className="p-2">
      <WhyNotHere app={app} data={data} person={{ id: phone.person, title: phone.name }} onClose={close} />
    </div>
  );
}

/** In place of the page where people sign in: it asks for no code, and says so. */
function SignInHere({ id, app, palette }: { id: string; app: App; palette: { ink: string; soft: string } }) {
  const engine = useRoom((s) => s.engine)!;
  const [mail, setMail] = useState('');
  const [problem, setProblem] = useState('');
  return (
    <form
      className="grid h-full content-center gap-3 px-8"
      style={{ color: palette.ink }}
      onSubmit={(e) => {
        e.preventDefault();
        engine.room.signIn(id, mail.trim()).catch((wrong: Error) => setProblem(wrong.message));
      }}
    >
      <h2 className="text-[24px]">{app.name}</h2>
      <p className="text-[15px]" style={{ color: palette.soft }}>
        Sign in to use this app. A stand-in: no code is asked for here.
      </p>
      <input
        type="email"
        required
        aria-label="Your mail address"
        placeholder="Your mail address"
        className="field !h-12 w-full !text-[16px]"
        value={mail}
        onChange={(e) => setMail(e.target.value)}
      />
      {problem && <p className="text-[14px] text-persimmon-deep">{problem}</p>}
      <Button look="main" type="submit" className="!h-12 !text-[16px]">
        Sign in
      </Button>
    </form>
  );
}

import { useQuery } from '@tanstack/react-query';
import { AppWindow, Check, Rocket, ShieldAlert, Upload } from 'lucide-react';
import { clsx } from 'clsx';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { MOST_ABOUT } from '../../core/app/schema.ts';
import { ask } from '../../player/link.ts';
import { Index, IndexGroup } from '../shell/Index.tsx';
import { AppIcon } from '../start/StartView.tsx';
import { noteTo, useNotes } from '../state/notes.ts';
import { useApp, useEngine, useHome, useStudio } from '../state/studio.ts';
import { revised, useRevisions } from '../state/revisions.ts';
import { say } from '../state/trace.ts';
import { Button, Line, Note } from '../ui/controls.tsx';
import { chooseFiles } from '../ui/files.ts';
import { ZoneChip } from './ZoneChip.tsx';
import { useBoard } from '../logic/useBoard.ts';
import { useScenes, type Played } from '../rehearse/scenes.ts';
import { asksAboutRuns, RunsUnderWay, type RunsAfter } from './RunsUnderWay.tsx';
import { Elsewhere, useElsewhere } from './Elsewhere.tsx';
import { LinkCard } from './LinkCard.tsx';
import { OpeningHours } from './OpeningHours.tsx';
import { FailingScenes } from './FailingScenes.tsx';
import { drawIcon, squarePicture } from './icons.ts';
import { ThemeCard } from './ThemeCard.tsx';

const COLOURS = ['#C8441F', '#A35A00', '#1B6A5E', '#0E6073', '#43548A', '#7B3F86', '#8A2F4B', '#1F2E2A'];
const slug = (name: string): string =>
  name
    .toLowerCase()
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 40) || 'app';

interface ServerInfo {
  urls: string[];
  network: boolean;
  secure: boolean;
}

/** The Release workspace: a name, an icon, colours, an address; then a link and a code to scan. */
export function ReleaseView() {
  const app = useApp();
  const engine = useEngine();
  const navigate = useNavigate();
  const kept = useStudio((s) => s.kept);
  const home = useHome();
  const edit = useStudio((s) => s.edit);
  const setReleased = useStudio((s) => s.setReleased);
  const host = useRevisions((s) => s.host);
  const released = kept!.released;
  const [address, setAddress] = useState(released?.address ?? slug(app.name));
  const [busy, setBusy] = useState('');
  const [problem, setProblem] = useState('');
  const [failing, setFailing] = useState<readonly Played[]>([]);
  const { board, look } = useBoard();
  const asksRuns = asksAboutRuns(board, released?.app, app);
  const [runs, setRuns] = useState<RunsAfter>('newest');
  const { data: server } = useQuery({ queryKey: ['server'], queryFn: () => ask<ServerInfo>('/api/server') });
  const { data: check } = useQuery({
    queryKey: ['address', address, released?.address],
    queryFn: () =>
      ask<{ free: boolean; problem: string | null }>(`/api/apps/${encodeURIComponent(address || '-')}/check`, {
        key: kept!.ownerKey,
      }),
    enabled: released?.address !== address,
    staleTime: 0,
  });
  const changed = released && JSON.stringify(released.app) !== JSON.stringify(app);

  /** What was rehearsed is played first; a scene that fails holds the release back, unless it is meant to go out anyway. */
  const publish = async (anyway = false): Promise<void> => {
    setProblem('');
    setFailing([]);
    try {
      const scenes = anyway ? [] : (app.scenes ?? []);
      if (scenes.length) {
        setBusy(scenes.length === 1 ? 'Playing the scene' : `Playing ${scenes.length} scenes`);
        const failed = await useScenes.getState().play(scenes.map((s) => s.id));
        if (failed === null) throw new Error('The scenes were stopped, so nothing was released.');
        if (failed.length) return setFailing(failed);
      }
      setBusy('Checking and sending the app');
      // Pressed before it was known what is under way: then it is asked first.
      if (released && !board && asksAboutRuns((await look()) ?? undefined, released.app, app))
        throw new Error('Runs are under way on the server. Say below what they go on with, then release again.');
      const icons = { 192: await drawIcon(app.look, 192), 512: await drawIcon(app.look, 512) };
      const { number, at } = await ask<{ number: number; at: string }>(
        `/api/apps/${address}?runs=${asksRuns ? runs : 'newest'}`,
        {
          method: 'PUT',
          json: { app, icons },
          key: kept!.ownerKey,
        },
      );
      const first = released?.address !== address;
      await setReleased({ address, number, at, app });
      setBusy('Sending the records');
      await engine.host.release({ address, key: kept!.ownerKey, app }, first);
      say({ said: `Released ${app.name}, release ${number}, at /a/${address}`, tone: 'good' });
      toast(`Release ${number} is out.`);
    } catch (e) {
      setProblem((e as Error).message);
    } finally {
      setBusy('');
    }
  };
  const withdraw = async (): Promise<void> => {
    setBusy('Removing it from the server');
    try {
      await ask(`/api/apps/${released!.address}`, { method: 'DELETE', key: kept!.ownerKey });
      await engine.host.leave();
      await setReleased(null);
      revised.host(null);
      toast('The app is no longer at its address. Its records are kept here.');
    } catch (e) {
      setProblem((e as Error).message);
    } finally {
      setBusy('');
    }
  };

  const elsewhere = useElsewhere();
  const barred = elsewhere.filter((h) => h.how === 'barred');
  const blocked = useNotes().filter((n) => n.severity === 'stops');
  const base = server?.urls[0] ?? location.origin;
  return (
    <>
      <Index label="Release">
        <IndexGroup title="Release">
          <li className="flex h-[30px] items-center gap-2 rounded-control bg-raised px-2 font-semibold shadow-[0_0_0_1px_var(--color-line)]">
            <AppWindow size={15} aria-hidden /> The app{' '}
            {released && <span className="ml-auto text-xs font-normal text-ink-faint">no. {released.number}</span>}
          </li>
        </IndexGroup>
      </Index>
      <main className="thin-scroll min-w-0 flex-1 overflow-auto px-6 py-5">
        <div className="mx-auto max-w-[760px] space-y-3.5">
          <header className="flex items-center gap-3">
            <h1 className="text-xl">Release</h1>
            <span className="min-w-0 flex-1 truncate text-ink-soft">
              {released
                ? `release ${released.number}, ${new Date(released.at).toLocaleString('en-GB', { weekday: 'short', day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })}${changed ? ', changed since' : ''}`
                : 'not released yet'}
            </span>
            <Button
              look="main"
              icon={Rocket}
              disabled={
                Boolean(busy) || blocked.length > 0 || (released?.address !== address && check?.problem != null)
              }
              onClick={() => void publish()}
            >
              {busy ? 'Releasing' : released ? 'Release again' : 'Release'}
            </Button>
          </header>
          {busy && (
            <p role="status" className="text-kelp">
              {busy}
            </p>
          )}
          {problem && <Note tone="bad">{problem}</Note>}
          <FailingScenes failing={failing} releaseAnyway={() => void publish(true)} />
          {blocked.length > 0 && (
            <Note tone="bad">
              <b className="font-semibold">
                {blocked.length === 1 ? 'One thing keeps' : `${blocked.length} things keep`} the app from being
                released.
              </b>{' '}
              {blocked.slice(0, 3).map((n, i) => (
                <button
                  key={i}
                  type="button"
                  className="block text-left underline underline-offset-2"
                  onClick={() => void navigate(`${home}/${noteTo(n)}`)}
                >
                  {n.said}
                </button>
              ))}
            </Note>
          )}
          {barred.length > 0 && (
            <Note
              action={
                <Button
                  small
                  onClick={() => document.getElementById('elsewhere')?.scrollIntoView({ behavior: 'smooth' })}
                >
                  Look at {barred.length === 1 ? 'it' : 'them'}
                </Button>
              }
            >
              Records name pictures, sounds or pages at{' '}
              {barred.length === 1 ? barred[0]!.host : `${barred.length.toLocaleString('en-GB')} addresses elsewhere`}.
              They are not shown until you allow {barred.length === 1 ? 'that address' : 'those addresses'}.
            </Note>
          )}
          {board && asksRuns && <RunsUnderWay board={board} value={runs} onChange={setRuns} />}
          {released && (
            <LinkCard
              url={`${base}/a/${released.address}/`}
              local={!server?.network}
              host={host}
              onWithdraw={() => void withdraw()}
            />
          )}
          <section className="card flex items-start gap-5 px-5 py-4">
            <AppIcon look={app.look} size={72} />
            <div className="min-w-0 flex-1">
              <Line label="Name">
                <input
                  aria-label="Name of the app"
                  className="field max-w-72"
                  value={app.name}
                  onChange={(e) => {
                    const name = e.target.value;
                    if (name.trim())
                      void edit(
                        'Renamed the app',
                        (a) => {
                          a.name = name.slice(0, 80);
                        },
                        { merge: 'app-name' },
                      );
                  }}
                />
              </Line>
              <Line label="Description">
                <textarea
                  rows={1}
                  aria-label="Description of the app"
                  className="field field-sizing-content max-h-24 resize-none"
                  maxLength={MOST_ABOUT}
                  placeholder="What it is for; shown where its link is shared"
                  value={app.about ?? ''}
                  onChange={(e) =>
                    void edit(
                      'Changed the description of the app',
                      (a) => {
                        const said = e.target.value.replace(/\n/g, ' ');
                        if (said) a.about = said;
                        else delete a.about;
                      },
                      { merge: 'app-about' },
                    )
                  }
                />
              </Line>
              <Line label="Address">
                <span className="font-mono text-sm text-ink-soft">/a/</span>
                <input
                  aria-label="Short address"
                  className="field !w-52 font-mono text-sm"
                  value={address}
                  disabled={Boolean(released)}
                  onChange={(e) => setAddress(e.target.value.toLowerCase())}
                  aria-invalid={check?.problem != null}
                />
                {!released &&
                  check &&
                  (check.problem ? (
                    <span className="text-sm text-persimmon-deep">{check.problem}</span>
                  ) : (
                    <span className="flex items-center gap-1 text-sm text-kelp">
                      <Check size={14} aria-hidden /> free
                    </span>
                  ))}
              </Line>
              <Line label="Time zone">
                <ZoneChip />
              </Line>
              <Line label="Icon">
                <input
                  aria-label="Letters on the icon"
                  maxLength={3}
                  className="field !w-16 text-center font-semibold"
                  value={app.look.icon.letters}
                  disabled={Boolean(app.look.icon.picture)}
                  onChange={(e) =>
                    void edit(
                      'Changed the icon',
                      (a) => {
                        a.look.icon.letters = e.target.value;
                      },
                      { merge: 'icon' },
                    )
                  }
                />
                <span className="flex gap-1" role="radiogroup" aria-label="Colour of the icon">
                  {COLOURS.map((c) => (
                    <button
                      key={c}
                      type="button"
                      role="radio"
                      aria-checked={app.look.icon.colour === c}
                      aria-label={`Colour ${c}`}
                      onClick={() =>
                        void edit('Changed the colour of the icon', (a) => {
                          a.look.icon.colour = c;
                        })
                      }
                      className={clsx(
                        'size-6 rounded-full',
                        app.look.icon.colour === c && 'ring-2 ring-ink ring-offset-2 ring-offset-raised',
                      )}
                      style={{ background: c }}
                    />
                  ))}
                </span>
                <Button
                  small
                  icon={Upload}
                  onClick={() =>
                    void chooseFiles('image/*', false).then(async ([f]) => {
                      if (!f) return;
                      try {
                        const picture = await squarePicture(f);
                        await edit('Gave the app a picture as its icon', (a) => {
                          a.look.icon.picture = picture;
                        });
                      } catch {
                        toast.error(`“${f.name}” cannot be read as a picture. Choose a JPEG or PNG.`);
                      }
                    })
                  }
                >
                  Use a picture
                </Button>
                {app.look.icon.picture && (
                  <Button
                    small
                    look="quiet"
                    onClick={() =>
                      void edit('Took the picture off the icon', (a) => {
                        a.look.icon.picture = null;
                      })
                    }
                  >
                    Use letters
                  </Button>
                )}
              </Line>
            </div>
          </section>
          <ThemeCard />
          <OpeningHours />
          <Elsewhere hosts={elsewhere} />
          <Note>
            <span className="flex gap-2">
              <ShieldAlert size={16} className="mt-0.5 shrink-0 text-saffron" aria-hidden />
              <span>
                {app.access ? (
                  <>
                    <b className="font-semibold">People see and change what the rules allow.</b> They are in{' '}
                    <Link to={`${home}/people/rules`} className="font-semibold text-kelp hover:underline">
                      People
                    </Link>
                    .
                  </>
                ) : (
                  <>
                    <b className="font-semibold">Anyone who has the link can see and change every record.</b> They can
                    also say that they are somebody else, and get the notices for that person from then on. Give the
                    link only to people you trust with all of it, or set in{' '}
                    <Link to={`${home}/people`} className="font-semibold text-kelp hover:underline">
                      People
                    </Link>{' '}
                    who may do what.
                  </>
                )}{' '}
                Only this browser, or someone with this app’s exported file, can release or remove it.
              </span>
            </span>
          </Note>
          {server && !server.network && (
            <p className="text-sm text-ink-soft">
              The server answers on this machine only. To reach it from phones on the same network, start it with{' '}
              <code className="rounded bg-sunk px-1 font-mono text-xs whitespace-nowrap">npm start -- --network</code>.
            </p>
          )}
          {server?.network && !server.secure && (
            <p className="text-sm text-ink-soft">
              The server speaks plain http: phones can use the app, but cannot install it, work offline or use the
              camera. Start it with <code className="rounded bg-sunk px-1 font-mono text-xs">--cert</code> and{' '}
              <code className="rounded bg-sunk px-1 font-mono text-xs">--key</code> for https.
            </p>
          )}
        </div>
      </main>
    </>
  );
}

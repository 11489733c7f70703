import { LogIn, Trash2 } from 'lucide-react';
import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { enterRequests, removeSignIn, renewBy, setUpSignIn, tokensIn } from '../../core/app/sign-in.ts';
import { requestWithService } from '../../core/app/services.ts';
import type { App, SignIn } from '../../core/app/schema.ts';
import { PageSentence, SignInAtPage } from './SignInAtPage.tsx';
import { ClaimsSentence } from './ClaimsSentence.tsx';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { useApp, useEdit, useEngine, useHome } from '../state/studio.ts';
import { toastWithUndo } from '../state/undo-toast.ts';
import { Button, Empty, IconButton } from '../ui/controls.tsx';

/** How people sign in with the maker's own service, a sentence for each step, in the order of the work. */
export function SignInDesk() {
  const app = useApp();
  const edit = useEdit();
  const navigate = useNavigate();
  const home = useHome();
  const { signIn } = app;
  const possible = enterRequests(app);
  if (!signIn) {
    const set = (id: string): void => void edit('Set up signing in', (a) => void setUpSignIn(a as App, id));
    return (
      <>
        <Empty
          title="Nobody signs in yet"
          words={
            possible.length
              ? 'With your own service: which request signs people in? Its answer has a token.'
              : 'Add the request that signs people in, try it, and pick the token out of its answer. Then it can be chosen here.'
          }
        >
          <div className="flex flex-col items-center gap-2">
            {possible.map((r, i) => (
              <Button key={r.id} icon={LogIn} {...(i === 0 && { look: 'main' as const })} onClick={() => set(r.id)}>
                {r.name}
              </Button>
            ))}
          </div>
        </Empty>
        <SignInAtPage isMain={possible.length === 0} />
      </>
    );
  }
  const change = (label: string, recipe: (s: SignIn) => void): void =>
    void edit(label, (a) => {
      if (a.signIn) recipe(a.signIn as SignIn);
    });
  const requests = (app.services ?? []).flatMap((s) => s.requests);
  const enter = requestWithService(app, signIn.enter)?.request;
  const named = (id: string | undefined) => requests.find((r) => r.id === id);
  const choices = (fits: (r: (typeof requests)[number]) => boolean) => [
    { value: '', label: 'nothing' },
    ...requests.filter(fits).map((r) => ({ value: r.id, label: r.name })),
  ];
  const screens = app.screens.filter((s) => !s.given || s.id === signIn.screen);
  const open = app.screens.filter((s) => s.id !== signIn.screen);
  const remove = (): void => {
    void edit('Ended signing in', (a) => removeSignIn(a as App));
    toastWithUndo('Nobody has to sign in any more. Its screens and routines are still there.');
    void navigate(`${home}/services`);
  };
  const pick = (id: string | undefined): string => enter?.picks.find((p) => p.id === id)?.name ?? 'nothing';
  return (
    <>
      <header className="mb-3 flex items-center gap-2">
        <h1 className="min-w-0 flex-1 text-xl">Signing in</h1>
        <IconButton icon={Trash2} label="End signing in" onClick={remove} />
      </header>
      <section className="card sentence mb-3.5 px-5 py-3.5">
        <p>
          People sign in by{' '}
          <ChoiceChip
            name="Request that signs in"
            value={signIn.enter}
            choices={possible.map((r) => ({ value: r.id, label: r.name }))}
            onChange={(id) =>
              change('Another request signs in', (s) => {
                const tokens = tokensIn(requestWithService(app, id)!.request.picks)!;
                delete s.renewal;
                delete s.seconds;
                Object.assign(s, { enter: id, ...tokens });
              })
            }
          />
          , whose answer has the token as{' '}
          <ChoiceChip
            name="Where the token is"
            tone="data"
            value={signIn.token}
            choices={(enter?.picks ?? []).filter((p) => p.type === 'text').map((p) => ({ value: p.id, label: p.name }))}
            onChange={(id) => change('The token is another pick', (s) => void (s.token = id))}
          />
          {signIn.renewal && <>, what renews it as {pick(signIn.renewal)}</>}
          {signIn.seconds && <>, and for how many seconds it is good as {pick(signIn.seconds)}</>}.
        </p>
        <p>
          The token is renewed by{' '}
          <ChoiceChip
            name="Request that renews the token"
            value={signIn.renew?.request ?? ''}
            choices={choices((r) => r.id !== signIn.enter && renewBy(r) !== null)}
            onChange={(id) =>
              change('Another request renews the token', (s) => {
                const request = named(id);
                const renew = request && renewBy(request);
                if (renew) s.renew = renew;
                else delete s.renew;
              })
            }
          />
          {signIn.renew
            ? ', before it ends or after the service refuses it, once for all that wait.'
            : ': when it ends, people sign in again.'}
        </p>
        <p>
          Who they are is told by{' '}
          <ChoiceChip
            name="Request that tells who somebody is"
            value={signIn.who ?? ''}
            choices={choices((r) => r.method === 'GET')}
            onChange={(id) =>
              change('Another request tells who somebody is', (s) => {
                if (id) s.who = id;
                else delete s.who;
              })
            }
          />
          {signIn.facts.length > 0 && (
            <>
              , and kept as{' '}
              {signIn.facts
                .map((f) => app.variables?.find((v) => v.id === f.variable)?.name)
                .filter(Boolean)
                .join(', ')}
            </>
          )}
          .
        </p>
        {signIn.page && <PageSentence page={signIn.page} change={change} />}
        <ClaimsSentence signIn={signIn} change={change} />
        <p>
          They are signed out by{' '}
          <ChoiceChip
            name="Request that signs out"
            value={signIn.leave ?? ''}
            choices={choices((r) => r.id !== signIn.enter)}
            onChange={(id) =>
              change('Another request signs out', (s) => {
                if (id) s.leave = id;
                else delete s.leave;
              })
            }
          />
          , and{' '}
          <ChoiceChip
            name="How long they stay signed in"
            value={signIn.stays ? 'stay' : 'brief'}
            choices={[
              { value: 'stay', label: 'stay signed in until then' },
              { value: 'brief', label: 'are out when the app is closed, too' },
            ]}
            onChange={(v) => change('How long people stay signed in', (s) => void (s.stays = v === 'stay'))}
          />
          . What was fetched for them goes from the device then.
        </p>
        <p>
          Whoever has not signed in sees{' '}
          <ChoiceChip
            name="Screen to sign in"
            value={signIn.screen}
            choices={screens.map((s) => ({ value: s.id, label: s.name }))}
            onChange={(id) => change('Another screen is for signing in', (s) => void (s.screen = id))}
          />{' '}
          in place of every other screen, also by its link, but for{' '}
          {signIn.open.map((id) => (
            <span key={id}>
              <ChoiceChip
                name="Screen that is open"
                value={id}
                choices={[{ value: '', label: 'close it' }, ...open.map((s) => ({ value: s.id, label: s.name }))]}
                onChange={(to) =>
                  change('Which screens are open to all', (s) => {
                    s.open = s.open.flatMap((o) => (o === id ? (to ? [to] : []) : [o]));
                  })
                }
              />{' '}
            </span>
          ))}
          <ChoiceChip
            name="Open one more screen"
            label={signIn.open.length ? 'and one more' : 'none'}
            value={null}
            choices={open.filter((s) => !signIn.open.includes(s.id)).map((s) => ({ value: s.id, label: s.name }))}
            onChange={(id) => change('Which screens are open to all', (s) => void s.open.push(id as string))}
          />
          .
        </p>
      </section>
      <TokenNow />
    </>
  );
}

/** The token on the phone beside the work: how long it is good still, and ending it by hand. */
function TokenNow() {
  const engine = useEngine();
  const [now, setNow] = useState<{ isIn: boolean; left: number | null } | null>(null);
  useEffect(() => {
    let over = false;
    const look = (): void => void engine.signedIn().then((s) => !over && setNow(s));
    look();
    const timer = setInterval(look, 1000);
    return () => {
      over = true;
      clearInterval(timer);
    };
  }, [engine]);
  if (!now) return null;
  const left = now.left === null ? null : Math.max(0, Math.round(now.left / 1000));
  return (
    <section aria-label="The token now" className="card flex items-center gap-3 px-5 py-3">
      <span role="status" className="min-w-0 flex-1">
        {!now.isIn
          ? 'Nobody has signed in on the phone beside the work.'
          : left === null
            ? 'Somebody has signed in on the phone beside the work; nobody says how long the token is good.'
            : `Somebody has signed in on the phone beside the work. The token is good for ${left} more second${left === 1 ? '' : 's'}.`}
      </span>
      {now.isIn && (
        <>
          <Button small onClick={() => void engine.endToken()}>
            End the token
          </Button>
          <Button small onClick={() => void engine.signOut()}>
            Sign out
          </Button>
        </>
      )}
    </section>
  );
}

import { useState } from 'react';
import { describedAt, setUpSignInAtPage, SignInDescription } from '../../core/app/sign-in-page.ts';
import type { App, SignIn } from '../../core/app/schema.ts';
import { fetchData } from '../bring/fetch-data.ts';
import { useEdit, useStudio } from '../state/studio.ts';
import { Button, Note } from '../ui/controls.tsx';
import { TextBox } from '../ui/TypedBox.tsx';

/** What a service says of itself; rejects in words. */
async function descriptionAt(address: string): Promise<SignInDescription> {
  const at = describedAt(address);
  const { file } = await fetchData(at, new AbortController().signal).catch((e: Error) => {
    throw new Error(`${e.message} It was asked at ${at}.`);
  });
  let json: unknown;
  try {
    json = JSON.parse(await file.text());
  } catch {
    throw new Error(`What is at ${at} is no description of how people sign in.`);
  }
  const read = SignInDescription.safeParse(json);
  if (!read.success) throw new Error(`What is at ${at} does not say where people sign in and where tokens are given.`);
  return read.data;
}

/** Sets up signing in at a page of a service, from what that says of itself or from its two addresses. */
export function SignInAtPage({ isMain }: { isMain: boolean }) {
  const edit = useEdit();
  const [address, setAddress] = useState('');
  const [tokens, setTokens] = useState('');
  const [client, setClient] = useState('');
  const [scope, setScope] = useState('openid profile email');
  const [byHand, setByHand] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const [going, setGoing] = useState(false);
  const setUp = async (): Promise<void> => {
    setProblem(null);
    setGoing(true);
    try {
      const described = byHand
        ? SignInDescription.parse({ authorization_endpoint: address.trim(), token_endpoint: tokens.trim() })
        : await descriptionAt(address.trim());
      const name = new URL(described.token_endpoint).hostname;
      await edit('Set up signing in at a page', (a) =>
        setUpSignInAtPage(a as App, { name, client: client.trim(), scope, described }),
      );
    } catch (e) {
      setProblem(
        byHand && (e as Error).name === 'ZodError' ? 'Both addresses begin with https://.' : (e as Error).message,
      );
    } finally {
      setGoing(false);
    }
  };
  const field = (label: string, value: string, set: (v: string) => void, placeholder: string) => (
    <label className="block">
      <span className="mb-0.5 block text-sm text-ink-soft">{label}</span>
      <input
        className="field font-mono text-sm"
        value={value}
        placeholder={placeholder}
        onChange={(e) => set(e.target.value)}
      />
    </label>
  );
  return (
    <section aria-label="Signing in at a page" className="card mx-auto mt-4 max-w-[560px] px-5 py-4">
      <h2 className="text-base">At a page of the service</h2>
      <p className="mt-1 text-ink-soft">
        People go to a page of the service, sign in there, and come back (OAuth 2 with a code and PKCE, OpenID Connect).
        The app never sees their password.
      </p>
      <form
        className="mt-3 space-y-2.5"
        onSubmit={(e) => {
          e.preventDefault();
          if (!going) void setUp();
        }}
      >
        {field(byHand ? 'Where people sign in' : 'Address of the service', address, setAddress, 'https://')}
        {byHand && field('Where tokens are given', tokens, setTokens, 'https://')}
        {field('By what name it knows this app (client ID)', client, setClient, 'given to you by the service')}
        {field('What the app asks to know (scope)', scope, setScope, 'openid profile email')}
        {problem && <Note tone="bad">{problem}</Note>}
        <div className="flex items-center gap-2 pt-1">
          <Button type="submit" look={isMain ? 'main' : 'plain'} disabled={going || !address.trim() || !client.trim()}>
            {going ? 'Asking' : 'Set it up'}
          </Button>
          <Button look="quiet" onClick={() => setByHand(!byHand)}>
            {byHand ? 'It describes itself' : 'Both addresses by hand'}
          </Button>
        </div>
      </form>
    </section>
  );
}

/** The page where people sign in, and what the service must know of the app. */
export function PageSentence({
  page,
  change,
}: {
  page: NonNullable<SignIn['page']>;
  change(label: string, recipe: (s: SignIn) => void): void;
}) {
  const name = useStudio((s) => s.kept?.released?.address);
  const set = (part: 'authorize' | 'client' | 'scope', value: string): void =>
    change('Changed where people sign in', (s) => {
      if (part === 'scope' && !value) delete s.page!.scope;
      else s.page![part] = value;
    });
  const box = (label: string, part: 'authorize' | 'client' | 'scope', width: string) => (
    <span className={`inline-block align-middle ${width}`}>
      <TextBox
        label={label}
        className="font-mono text-sm"
        placeholder="nothing"
        value={page[part] ?? ''}
        onChange={(v) => set(part, v.trim())}
      />
    </span>
  );
  return (
    <div className="pb-1">
      <p>They do so at the page {box('Where people sign in', 'authorize', 'w-full')}</p>
      <p>
        as {box('Client ID', 'client', 'w-44')}, asking to know {box('Scope', 'scope', 'w-52')}. Tell the service that
        they come back to{' '}
        {name ? (
          <code className="rounded bg-sunk px-1 font-mono text-xs">{`${location.origin}/a/${name}/`}</code>
        ) : (
          'the address of the app, as soon as it is released'
        )}
        .
      </p>
    </div>
  );
}

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { addressesIn } from '../../core/document/addresses.ts';
import { givesRole } from '../../core/app/gives-role.ts';
import { ask } from '../../player/link.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { deviceOf, seenAt } from '../../player/signed-in-on.ts';
import { download } from '../state/keep.ts';
import { useApp, useStudio } from '../state/studio.ts';
import { Button, Note } from '../ui/controls.tsx';

interface Session {
  id: string;
  person: string;
  mail: string;
  began: number;
  seen: number;
  browser: string;
}
interface Passkey {
  id: string;
  mail: string;
  used: number;
  browser: string;
}
interface Came {
  sessions: Session[];
  invited: { mail: string; at: number; until: number }[];
}

/** Saves what is kept about somebody as a ZIP file. */
async function saveKept(app: string, key: string, { person, mail }: Session): Promise<void> {
  const answer = await fetch(`/api/apps/${app}/people/${person}/kept`, { headers: { 'x-owner-key': key } });
  if (!answer.ok) throw new Error(((await answer.json()) as { error?: string }).error ?? 'That did not work.');
  download(`${mail}.zip`, await answer.blob(), 'application/zip');
}

/** Who has signed in to the released app and who was invited, with the way to invite and to sign people out. */
export function Arrivals() {
  const app = useApp();
  // Those that a few words in their record give: others ask for more than an invitation can say.
  const roles = app.access?.roles.filter((r) => givesRole(app, r)) ?? [];
  const kept = useStudio((s) => s.kept);
  const client = useQueryClient();
  const [mails, setMails] = useState('');
  const [words, setWords] = useState('');
  const [role, setRole] = useState('');
  const [mailed, setMailed] = useState(0);
  const [links, setLinks] = useState<{ mail: string; link: string }[]>([]);
  const [problem, setProblem] = useState('');
  const name = kept?.released?.address;
  const key = kept?.ownerKey ?? '';
  const queryKey = ['arrivals', name];
  const { data, error } = useQuery({
    queryKey,
    queryFn: () => ask<Came>(`/api/apps/${name}/people`, { key }),
    enabled: Boolean(name),
    refetchInterval: 5000,
  });
  const { data: keys } = useQuery({
    queryKey: [...queryKey, 'passkeys'],
    queryFn: () => ask<{ passkeys: Passkey[] }>(`/api/apps/${name}/passkeys`, { key }),
    enabled: Boolean(name),
    refetchInterval: 5000,
  });
  if (!name)
    return (
      <section className="card px-5 py-4 text-ink-soft" aria-label="Who has come">
        Once the app is released you invite people here, and see who has signed in.
      </section>
    );
  const doing = (work: () => Promise<unknown>) => async (): Promise<void> => {
    setProblem('');
    await work().catch((e: Error) => setProblem(e.message));
    await client.invalidateQueries({ queryKey });
  };
  const invite = (byMail: boolean) => async (): Promise<void> => {
    const json = { mails: [...new Set(addressesIn(mails))], ...(byMail && { words }), ...(role && { role }) };
    const { invited } = await ask<{ invited: { mail: string; token: string }[] }>(`/api/apps/${name}/invitations`, {
      method: 'POST',
      json,
      key,
    });
    setLinks(
      byMail ? [] : invited.map((i) => ({ mail: i.mail, link: `${location.origin}/a/${name}/#invited=${i.token}` })),
    );
    setMailed(byMail ? invited.length : 0);
    setMails('');
  };
  return (
    <section className="card px-5 py-4" aria-label="Who has come">
      <h2 className="mb-2 text-[15px]">Invite people</h2>
      <div className="grid grid-cols-2 gap-2.5">
        <textarea
          className="field min-h-[76px]"
          aria-label="Mail addresses of whom you invite"
          placeholder="Mail addresses, with commas or one a line"
          value={mails}
          onChange={(e) => setMails(e.target.value)}
        />
        <textarea
          className="field min-h-[76px]"
          aria-label="Your words in the mail"
          placeholder="Words of yours, which stand before the link"
          maxLength={2000}
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
      </div>
      {roles.length > 0 && (
        <p className="sentence mt-2.5">
          They come as{' '}
          <ChoiceChip
            name="The role that they come with"
            value={role}
            choices={[
              { value: '', label: 'what their record says' },
              ...roles.map((r) => ({ value: r.id, label: r.name })),
            ]}
            onChange={setRole}
          />
          .
        </p>
      )}
      <div className="mt-2.5 flex items-center gap-2">
        <Button look="main" disabled={!addressesIn(mails).length} onClick={() => void doing(invite(true))()}>
          Send by mail
        </Button>
        <Button disabled={!addressesIn(mails).length} onClick={() => void doing(invite(false))()}>
          Make links
        </Button>
        {mailed > 0 && (
          <span role="status" className="text-sm text-ink-soft">
            {mailed === 1 ? 'One invitation is' : `${mailed} invitations are`} in the outbox of the app.
          </span>
        )}
      </div>
      {links.length > 0 && (
        <div className="mt-3">
          <p className="mb-1.5 text-sm text-ink-soft">
            Send each person their link. It signs in once, within two weeks, and is shown only now.
          </p>
          <ul className="space-y-1.5">
            {links.map((l) => (
              <li key={l.mail} className="flex items-center gap-3">
                <span className="w-56 shrink-0 truncate" title={l.mail}>
                  {l.mail}
                </span>
                <code
                  className="min-w-0 flex-1 truncate rounded bg-sunk px-2 py-1 font-mono text-xs"
                  data-testid="invitation"
                >
                  {l.link}
                </code>
                <Button small onClick={() => void navigator.clipboard?.writeText(l.link)}>
                  Copy
                </Button>
              </li>
            ))}
          </ul>
        </div>
      )}
      {(problem || error) && (
        <div className="mt-3">
          <Note tone="bad">{problem || (error as Error).message}</Note>
        </div>
      )}
      <h2 className="mt-5 mb-1 text-[15px]">Signed in</h2>
      {!data?.sessions.length && <p className="text-ink-soft">Nobody yet.</p>}
      <ul className="divide-y divide-line">
        {data?.sessions.map((s) => (
          <li key={s.id} className="flex items-center gap-2 py-2">
            <span className="min-w-0 flex-1">
              <span className="block truncate" title={s.mail}>
                {s.mail}
              </span>
              <span className="block text-sm text-ink-soft">
                On {deviceOf(s.browser)}, last seen {seenAt(s.seen)}
              </span>
            </span>
            <Button
              small
              look="quiet"
              aria-label={`Save what is kept about ${s.mail}`}
              onClick={() => void doing(() => saveKept(name, key, s))()}
            >
              Save what is kept
            </Button>
            <Button
              small
              look="quiet"
              aria-label={`Sign ${s.mail} out`}
              onClick={() => void doing(() => ask(`/api/apps/${name}/sessions/${s.id}`, { method: 'DELETE', key }))()}
            >
              Sign out
            </Button>
          </li>
        ))}
      </ul>
      {Boolean(keys?.passkeys.length) && (
        <>
          <h2 className="mt-4 mb-1 text-[15px]">Passkeys</h2>
          <ul className="divide-y divide-line">
            {keys!.passkeys.map((p) => (
              <li key={p.id} className="flex items-center gap-2 py-2">
                <span className="min-w-0 flex-1">
                  <span className="block truncate" title={p.mail}>
                    {p.mail}
                  </span>
                  <span className="block text-sm text-ink-soft">
                    Made on {deviceOf(p.browser)}, last used {seenAt(p.used)}
                  </span>
                </span>
                <Button
                  small
                  look="quiet"
                  aria-label={`Remove the passkey of ${p.mail}`}
                  onClick={() =>
                    void doing(() => ask(`/api/apps/${name}/passkeys/${p.id}`, { method: 'DELETE', key }))()
                  }
                >
                  Remove
                </Button>
              </li>
            ))}
          </ul>
        </>
      )}
      {Boolean(data?.invited.length) && (
        <>
          <h2 className="mt-4 mb-1 text-[15px]">Invited, not yet here</h2>
          <ul className="text-ink-soft">
            {data!.invited.map((i) => (
              <li key={i.mail} className="flex justify-between gap-3 py-1">
                <span className="truncate">{i.mail}</span>
                <span className="text-sm">since {seenAt(i.at)}</span>
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { PenLine, Reply } from 'lucide-react';
import { useState } from 'react';
import { MAIL_DOMAIN } from '../../core/document/addresses.ts';
import { grouped } from '../../core/document/grouped.ts';
import { MailboxMessage } from '../../core/runs/mailbox.ts';
import { ask } from '../../player/link.ts';
import { useStudio } from '../state/studio.ts';
import { Button, Empty, Note } from '../ui/controls.tsx';
import { answerTo, Letter, NEW_LETTER, Writing, type LetterDraft, type Mail } from './Letters.tsx';
import { BeginCases } from './BeginCases.tsx';
import { momentWords } from './moment.ts';

/** The mails of the released app by threads, and the way to write to it as somebody outside, for trying. */
export function Mailbox() {
  const kept = useStudio((s) => s.kept);
  const client = useQueryClient();
  const [chosen, setChosen] = useState('');
  const [draft, setDraft] = useState<LetterDraft | null>(null);
  const [problem, setProblem] = useState('');
  const address = kept?.released?.address;
  const key = kept?.ownerKey ?? '';
  const path = `/api/apps/${address}/mailbox`;
  const { data, error } = useQuery({
    queryKey: ['mailbox', address],
    queryFn: async () => MailboxMessage.parse(await ask<unknown>(path, { key })),
    enabled: Boolean(address),
    refetchInterval: 2000,
  });
  const { data: server } = useQuery({
    queryKey: ['server'],
    queryFn: () => ask<{ mailPort: number | null; mailDomain: string }>('/api/server'),
  });
  if (!address)
    return (
      <>
        <Empty
          title="No mails yet"
          words="Once the app is released it has an address of its own. A routine that starts when a mail comes makes something of what is written there."
        />
        <BeginCases />
      </>
    );
  if (!data) return <p className="text-ink-soft">{error ? (error as Error).message : 'Asking the server…'}</p>;
  const last = (mails: readonly Mail[]): number => mails.at(-1)!.at;
  const threads = [...grouped(data.mails, (m) => m.thread)].sort((a, b) => last(b[1]) - last(a[1]));
  const shown = threads.find(([id]) => id === chosen) ?? threads[0];
  const send = async (): Promise<void> => {
    setProblem('');
    try {
      await ask(path, { method: 'POST', json: draft, key });
      setDraft(null);
      // A new mail is the newest; an answer stays in its thread.
      setChosen(draft?.answers ? (shown?.[0] ?? '') : '');
      await client.invalidateQueries({ queryKey: ['mailbox', address] });
    } catch (e) {
      setProblem((e as Error).message);
    }
  };
  return (
    <>
      <header className="mb-4 flex items-center gap-3">
        <div className="min-w-0 flex-1">
          <h1 className="text-xl">Mailbox</h1>
          <p className="text-ink-soft">
            <b className="font-semibold text-ink">
              {address}@{server?.mailDomain ?? MAIL_DOMAIN}
            </b>
            {server?.mailPort
              ? `, by SMTP at port ${server.mailPort} of the server`
              : ', from here alone: the server takes no mails from outside'}
          </p>
        </div>
        <Button
          icon={PenLine}
          look={draft ? 'plain' : 'main'}
          disabled={!data.takes}
          onClick={() => setDraft(NEW_LETTER)}
        >
          Write as somebody outside
        </Button>
      </header>
      {!data.takes && (
        <div className="mb-3">
          <Note>
            No routine of the release starts when a mail comes, so mails to it are refused. Add one, and release.
          </Note>
          <BeginCases />
        </div>
      )}
      {draft && (
        <Writing
          draft={draft}
          problem={problem}
          change={setDraft}
          send={() => void send()}
          leave={() => setDraft(null)}
        />
      )}
      {threads.length === 0 && !draft && (
        <Empty title="No mails yet" words="Write one as somebody outside, and see what the routines make of it." />
      )}
      {shown && (
        <div className="grid grid-cols-[240px_1fr] gap-3 max-[1100px]:grid-cols-[180px_1fr]">
          <ul className="space-y-1">
            {threads.map(([id, mails]) => (
              <li key={id}>
                <button
                  type="button"
                  aria-current={id === shown[0]}
                  onClick={() => setChosen(id)}
                  className={clsx(
                    'w-full rounded-control border px-2.5 py-1.5 text-left',
                    id === shown[0] ? 'border-line bg-raised' : 'border-transparent hover:bg-sunk/70',
                  )}
                >
                  <span className="block truncate font-semibold">{mails[0]!.subject || 'Without a subject'}</span>
                  <span className="flex justify-between gap-2 text-sm text-ink-soft">
                    <span className="truncate">{mails[0]!.who}</span>
                    <span className="shrink-0 tabular-nums">{momentWords(mails.at(-1)!.at)}</span>
                  </span>
                </button>
              </li>
            ))}
          </ul>
          <section aria-label="Thread" className="min-w-0 space-y-2">
            {shown[1].map((m) => (
              <Letter key={`${m.message} ${m.came}`} mail={m} />
            ))}
            <Button icon={Reply} onClick={() => setDraft(answerTo(shown[1]))} disabled={!data.takes}>
              Answer as {shown[1].find((m) => m.came)?.who ?? 'somebody outside'}
            </Button>
          </section>
        </div>
      )}
    </>
  );
}

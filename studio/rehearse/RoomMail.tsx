import { useQuery } from '@tanstack/react-query';
import { Bell, MessageSquareText, PenLine, Reply } from 'lucide-react';
import { useState } from 'react';
import { grouped } from '../../core/document/grouped.ts';
import { answerTo, Letter, NEW_LETTER, Writing, type LetterDraft } from '../logic/Letters.tsx';
import { Button, Note } from '../ui/controls.tsx';
import { momentWords } from '../logic/moment.ts';
import { ExpectThis } from './ExpectThis.tsx';
import { useRoom } from './room.ts';

/** The mails that came and went in the room, its text messages and notices, and the way to write as somebody outside. */
export function RoomMail() {
  const engine = useRoom((s) => s.engine);
  const which = useRoom((s) => s.which);
  const notes = useRoom((s) => s.state?.notes);
  const now = useRoom((s) => s.state?.now) ?? 0;
  const [draft, setDraft] = useState<LetterDraft | null>(null);
  const [problem, setProblem] = useState('');
  const { data } = useQuery({
    queryKey: ['room mail', which, notes],
    // Each is looked at once: the next note makes another.
    gcTime: 1000,
    queryFn: async () => ({ ...(await engine!.room.mailbox()), messages: await engine!.room.messages() }),
    enabled: engine !== null,
    placeholderData: (before) => before,
  });
  if (!engine || !data) return <p className="px-4 py-3 text-ink-soft">Looking</p>;
  const threads = [...grouped(data.mails, (m) => m.thread)].sort((a, b) => b[1].at(-1)!.at - a[1].at(-1)!.at);
  const send = async (): Promise<void> => {
    setProblem('');
    try {
      await engine.room.write(draft!);
      setDraft(null);
    } catch (e) {
      setProblem((e as Error).message);
    }
  };
  const { messages } = data;
  return (
    <div className="space-y-3 px-4 py-3">
      {draft ? (
        <Writing
          draft={draft}
          problem={problem}
          change={setDraft}
          send={() => void send()}
          leave={() => setDraft(null)}
        />
      ) : (
        <Button icon={PenLine} disabled={!data.takes} onClick={() => setDraft({ ...NEW_LETTER, files: [] })}>
          Write as somebody outside
        </Button>
      )}
      {!data.takes && <Note>No routine starts when a mail comes, so mails to the app are refused.</Note>}
      {threads.length === 0 && messages.length === 0 && (
        <p className="text-ink-soft">
          Nothing has come or gone yet. What the app sends is kept here, and goes to nobody.
        </p>
      )}
      {threads.map(([id, mails]) => (
        <section key={id} aria-label={mails[0]!.subject || 'Without a subject'} className="space-y-2">
          <h3 className="flex items-center gap-2 font-text text-md font-semibold tracking-normal">
            <span className="min-w-0 flex-1 truncate">{mails[0]!.subject || 'Without a subject'}</span>
            <Button
              small
              icon={Reply}
              disabled={!data.takes}
              onClick={() => setDraft({ ...answerTo(mails), files: [] })}
            >
              Answer
            </Button>
          </h3>
          {mails.map((m) => (
            <div key={`${m.message} ${m.came}`} className="group relative">
              <Letter mail={m} now={now} />
              {!m.came && (
                <ExpectThis
                  what="this mail"
                  className="absolute top-2 right-2"
                  expect={() => engine.expectSent('mail', m.address, m.subject)}
                />
              )}
            </div>
          ))}
        </section>
      ))}
      {messages.toReversed().map((m) => {
        const Icon = m.kind === 'notice' ? Bell : MessageSquareText;
        return (
          <article key={m.id} className="card group relative px-4 py-2.5">
            <ExpectThis
              what={m.kind === 'notice' ? 'this notice' : 'this text message'}
              className="absolute top-2 right-2"
              expect={() =>
                engine.expectSent(m.kind === 'notice' ? 'notice' : 'text message', m.to[0] ?? '', m.subject || m.body)
              }
            />
            <header className="flex items-center gap-2 text-sm text-ink-soft">
              <Icon size={14} aria-hidden className="shrink-0" />
              <span className="truncate">
                {m.kind === 'notice' ? 'A notice for' : 'A text message to'} {m.to.join(', ') || 'nobody'}
              </span>
              <span className="ml-auto shrink-0 tabular-nums">{momentWords(Date.parse(m.at), now)}</span>
            </header>
            {m.subject && <p className="mt-1 font-semibold break-words">{m.subject}</p>}
            <p className="break-words whitespace-pre-wrap">{m.body}</p>
          </article>
        );
      })}
    </div>
  );
}

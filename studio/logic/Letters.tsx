import { clsx } from 'clsx';
import { Bot, Paperclip, Send, X } from 'lucide-react';
import type { OutsideMail } from '../../core/rehearsal/state.ts';
import type { MailboxMessage } from '../../core/runs/mailbox.ts';
import { chooseFiles } from '../ui/files.ts';
import { Button, IconButton, Note } from '../ui/controls.tsx';
import { TextBox } from '../ui/TypedBox.tsx';
import { momentWords } from './moment.ts';

export type Mail = MailboxMessage['mails'][number];

/** A mail that is being written as somebody outside; without `files` none can go with it. */
export type LetterDraft = OutsideMail;
export const NEW_LETTER: LetterDraft = { from: 'ada@post.example', name: 'Ada Holm', subject: '', words: '' };

/** What somebody outside answers to the mails of a thread. */
export function answerTo(mails: readonly Mail[]): LetterDraft {
  const last = mails.at(-1)!;
  const outside = mails.find((m) => m.came) ?? last;
  const subject = /^re:/i.test(last.subject) ? last.subject : `Re: ${last.subject}`;
  return { ...NEW_LETTER, from: outside.address, name: outside.who, subject, answers: last.message };
}

const fileOf = async (file: File): Promise<{ name: string; type: string; data: string }> => {
  const bytes = new Uint8Array(await file.arrayBuffer());
  let letters = '';
  for (let i = 0; i < bytes.length; i += 8192) letters += String.fromCharCode(...bytes.subarray(i, i + 8192));
  return { name: file.name, type: file.type || 'application/octet-stream', data: btoa(letters) };
};

/** A mail that came or went. */
export function Letter({ mail, now }: { mail: Mail; now?: number }) {
  return (
    <article className={clsx('card px-4 py-2.5', !mail.came && 'ml-8 bg-kelp-wash/50')}>
      <header className="flex items-center gap-2 text-sm text-ink-soft">
        <b className={clsx('font-semibold text-ink', mail.came ? 'truncate' : 'shrink-0')}>
          {mail.came ? mail.who : 'The app'}
        </b>
        {!mail.came && <span className="truncate">to {mail.who}</span>}
        {mail.came && mail.by !== 'person' && (
          <span className="flex shrink-0 items-center gap-1 text-saffron">
            <Bot size={14} aria-hidden />{' '}
            {mail.by === 'machine' ? 'written by a machine, not answered' : 'from a mail server'}
          </span>
        )}
        <span className="ml-auto shrink-0 tabular-nums">{momentWords(mail.at, now)}</span>
      </header>
      <p className="mt-1 text-md break-words whitespace-pre-wrap">{mail.words}</p>
      {mail.files.map((f, i) => (
        <p key={i} className="mt-1 flex items-center gap-1.5 text-sm text-ink-soft">
          <Paperclip size={13} aria-hidden /> {f}
        </p>
      ))}
    </article>
  );
}

/** A mail to the app as somebody outside writes it. */
export function Writing({
  draft,
  problem,
  change,
  send,
  leave,
}: {
  draft: LetterDraft;
  problem: string;
  change(draft: LetterDraft): void;
  send(): void;
  leave(): void;
}) {
  const addFiles = async (): Promise<void> => {
    const files = await Promise.all((await chooseFiles('', true)).map(fileOf));
    if (files.length) change({ ...draft, files: [...(draft.files ?? []), ...files] });
  };
  const box = (label: string, of: 'name' | 'from' | 'subject') => (
    <label className="flex items-center gap-3">
      <span className="w-16 shrink-0 text-sm text-ink-soft">{label}</span>
      <TextBox label={label} value={draft[of]} onChange={(v) => change({ ...draft, [of]: v })} className="flex-1" />
    </label>
  );
  return (
    <section aria-label="A mail to the app" className="card mb-3 space-y-2 px-4 py-3">
      {box('From', 'name')}
      {box('Address', 'from')}
      {box('Subject', 'subject')}
      <textarea
        aria-label="Words of the mail"
        className="field w-full"
        rows={4}
        value={draft.words}
        onChange={(e) => change({ ...draft, words: e.target.value })}
      />
      {draft.files?.map((f, i) => (
        <p key={i} className="flex items-center gap-1.5 text-sm text-ink-soft">
          <Paperclip size={13} aria-hidden />
          <span className="min-w-0 truncate">{f.name}</span>
          <IconButton
            icon={X}
            size={13}
            label={`Leave out ${f.name}`}
            onClick={() => change({ ...draft, files: draft.files!.filter((_, at) => at !== i) })}
          />
        </p>
      ))}
      {problem && <Note tone="bad">{problem}</Note>}
      <div className="flex flex-wrap justify-end gap-2">
        {draft.files && (
          <Button icon={Paperclip} className="mr-auto" onClick={() => void addFiles()}>
            Add a file
          </Button>
        )}
        <Button onClick={leave}>Leave it</Button>
        <Button look="main" icon={Send} disabled={!draft.words.trim() || !draft.from.trim()} onClick={send}>
          Send to the app
        </Button>
      </div>
    </section>
  );
}

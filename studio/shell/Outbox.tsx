import { useQuery } from '@tanstack/react-query';
import { Bell, File, Mail, MessageSquareText, type LucideIcon } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import { ask } from '../../player/link.ts';
import type { OutboxItem } from '../engine/outbox.ts';
import { download } from '../state/keep.ts';
import { useEngine, useStudio } from '../state/studio.ts';
import { useTrace } from '../state/trace.ts';

/** What lies in the outbox, here or on the host of the released app. */
type Item = OutboxItem & { from: 'tried here' | 'released app' };

const LOOKS: Record<Item['kind'], { icon: LucideIcon; said: string }> = {
  mail: { icon: Mail, said: 'Mail' },
  'text message': { icon: MessageSquareText, said: 'Text message' },
  notice: { icon: Bell, said: 'Notice' },
  file: { icon: File, said: 'File' },
};

/** Reads the header of a message far enough to list it. */
function headline(eml: string, name: string): string {
  const head = eml.slice(0, eml.indexOf('\r\n\r\n'));
  const line = head
    .replace(/\r\n[ \t]/g, ' ')
    .split('\r\n')
    .find((l) => l.toLowerCase().startsWith(`${name.toLowerCase()}:`));
  return (line?.slice(name.length + 1).trim() ?? '').replace(/=\?UTF-8\?B\?([^?]*)\?=\s*/g, (_, b: string) =>
    new TextDecoder().decode(Uint8Array.from(atob(b), (c) => c.charCodeAt(0))),
  );
}

interface OnHost {
  id: string;
  eml?: string;
  message?: Pick<OutboxItem, 'to' | 'subject' | 'body' | 'at'> & { kind: 'text message' | 'notice' };
}

const fromHost = ({ id, eml = '', message }: OnHost): Item =>
  message
    ? { id, ...message, from: 'released app' }
    : {
        id,
        kind: 'mail',
        to: [headline(eml, 'To')],
        subject: headline(eml, 'Subject'),
        body: '',
        at: headline(eml, 'Date'),
        eml,
        from: 'released app',
      };

/** What went out while trying, here and on released phones. A stand-in: nothing leaves this machine. */
export function Outbox() {
  const engine = useEngine();
  const kept = useStudio((s) => s.kept);
  const trace = useTrace((s) => s.trace);
  const { data = [] } = useQuery({
    queryKey: ['outbox', kept?.id, trace.length],
    queryFn: async (): Promise<Item[]> => {
      const here = await engine.runs.outbox();
      const there = kept?.released
        ? await ask<OnHost[]>(`/api/apps/${kept.released.address}/outbox`, { key: kept.ownerKey }).catch(() => [])
        : [];
      return [...here.map((m) => ({ ...m, from: 'tried here' as const })), ...there.reverse().map(fromHost)];
    },
    refetchInterval: 4000,
  });
  if (data.length === 0)
    return (
      <p className="py-3 text-ink-faint">
        Nothing yet. Mails, text messages, notices and files that routines make are kept here as they would go out; this
        stand-in delivers none.
      </p>
    );
  return (
    <ul>
      {data.map((m) => (
        <Line key={`${m.from} ${m.id}`} item={m} />
      ))}
    </ul>
  );
}

function Line({ item: m }: { item: Item }) {
  const [open, setOpen] = useState(false);
  const { icon: Icon, said } = LOOKS[m.kind];
  const words = m.subject || m.body || 'No subject';
  const hasMore = m.kind !== 'file' && (m.body !== '' || (m.files?.length ?? 0) > 0);
  return (
    <li className="border-b border-line/60 py-1 last:border-0">
      <div className="flex items-center gap-3">
        <Icon size={15} className="shrink-0 text-ink-faint" aria-label={said} />
        <span className="w-48 shrink-0 truncate text-ink-soft">{m.kind === 'file' ? m.body : m.to.join(', ')}</span>
        {hasMore ? (
          <button
            type="button"
            aria-expanded={open}
            className="min-w-0 flex-1 truncate text-start font-semibold hover:text-kelp"
            onClick={() => setOpen(!open)}
          >
            {words}
          </button>
        ) : (
          <span className="min-w-0 flex-1 truncate font-semibold">{words}</span>
        )}
        <span className="shrink-0 text-xs text-ink-faint">{m.from}</span>
        <Save item={m} />
      </div>
      {open && (
        <div className="mt-1 mb-1.5 ml-7 max-h-48 max-w-prose overflow-y-auto rounded-card border border-line bg-ground px-3 py-2 whitespace-pre-wrap">
          {m.body}
          {m.files && <p className="mt-1.5 text-xs text-ink-faint">With {m.files.join(', ')}</p>}
        </div>
      )}
    </li>
  );
}

/** Takes it out of the outbox in its own format. */
function Save({ item: m }: { item: Item }) {
  const engine = useEngine();
  const look = 'w-28 shrink-0 text-end text-sm font-semibold text-kelp hover:underline';
  if (m.kind === 'mail' && m.eml !== undefined)
    return (
      <button type="button" className={look} onClick={() => download(`${m.id}.eml`, m.eml!, 'message/rfc822')}>
        Save message
      </button>
    );
  if (m.kind === 'text message')
    // The address of a message that is written already (RFC 5724).
    return (
      <a className={look} href={`sms:${m.to.join(',')}?body=${encodeURIComponent(m.body)}`}>
        Open message
      </a>
    );
  if (m.kind !== 'file') return <span className="w-28 shrink-0" />;
  const save = async (): Promise<void> => {
    const content = await engine.phone.file(m.address!);
    if (content) download(m.subject, content, content.type);
    else toast('This file is not here any more.');
  };
  return (
    <button type="button" className={look} onClick={() => void save()}>
      Save file
    </button>
  );
}

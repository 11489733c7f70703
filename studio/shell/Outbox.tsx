import { useQuery } from '@tanstack/react-query';
import { ask } from '../../player/link.ts';
import { download } from '../state/keep.ts';
import { useEngine, useStudio } from '../state/studio.ts';
import { useTrace } from '../state/trace.ts';

interface Sent {
  id: string;
  to: string;
  subject: string;
  from: string;
  eml: string;
}

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

/** Mails that went out while trying, here and on released phones. A stand-in: nothing leaves this machine. */
export function Outbox() {
  const engine = useEngine();
  const kept = useStudio((s) => s.kept);
  const trace = useTrace((s) => s.trace);
  const { data = [] } = useQuery({
    queryKey: ['outbox', kept?.id, trace.length],
    queryFn: async (): Promise<Sent[]> => {
      const here = await engine.outbox();
      const there = kept?.released
        ? await ask<{ id: string; eml: string }[]>(`/api/apps/${kept.released.address}/outbox`, {
            key: kept.ownerKey,
          }).catch(() => [])
        : [];
      return [
        ...here.map((m) => ({
          id: m.id,
          to: m.to.join(', '),
          subject: m.subject,
          from: 'tried here',
          eml: m.eml ?? '',
        })),
        ...there.reverse().map((m) => ({
          id: m.id,
          to: headline(m.eml, 'To'),
          subject: headline(m.eml, 'Subject'),
          from: 'released app',
          eml: m.eml,
        })),
      ];
    },
    refetchInterval: 4000,
  });
  if (data.length === 0)
    return (
      <p className="py-3 text-ink-faint">
        No mail yet. Mails that routines send are kept here as real messages; this stand-in delivers none.
      </p>
    );
  return (
    <ul>
      {data.map((m) => (
        <li key={m.id} className="flex items-baseline gap-3 border-b border-line/60 py-1 last:border-0">
          <span className="w-48 shrink-0 truncate text-ink-soft">{m.to}</span>
          <span className="min-w-0 flex-1 truncate font-semibold">{m.subject || 'No subject'}</span>
          <span className="shrink-0 text-xs text-ink-faint">{m.from}</span>
          <button
            type="button"
            className="shrink-0 text-sm font-semibold text-kelp hover:underline"
            onClick={() => download(`${m.id}.eml`, m.eml, 'message/rfc822')}
          >
            save message
          </button>
        </li>
      ))}
    </ul>
  );
}

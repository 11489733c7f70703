import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Copy, Eye, Play, RotateCcw } from 'lucide-react';
import { useId, useState } from 'react';
import { toast } from 'sonner';
import type { Routine } from '../../core/app/schema.ts';
import type { HookCallKept } from '../../core/runs/hook-calls.ts';
import { sampleCall } from '../../core/runs/sample-call.ts';
import { ask } from '../../player/link.ts';
import { useApp, useStudio } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';
import { momentWords } from './moment.ts';

interface Hook {
  secret: string;
  calls: HookCallKept[];
}

/** The address that another system calls, with its secret once that is asked for; a sample to try with, and who has called. */
export function HookAddress({ routine, proof }: { routine: string; proof: 'secret' | 'signature' }) {
  const kept = useStudio((s) => s.kept);
  const [shows, setShows] = useState(false);
  const app = kept?.released?.address;
  const { data, error } = useQuery({
    queryKey: ['hook', app, routine],
    queryFn: () => ask<Hook>(`/api/apps/${app}/hooks/${routine}`, { key: kept?.ownerKey ?? '' }),
    enabled: shows && Boolean(app),
    refetchInterval: 3000,
  });
  if (!app) return <span className="text-ink-faint"> (it has an address once the app is released)</span>;
  const address = `${location.origin}/hooks/${app}/${routine}`;
  if (!shows || !data)
    return (
      <span className="ml-1 inline-flex align-middle">
        <Button small icon={Eye} onClick={() => setShows(true)}>
          Show its address
        </Button>
        {error && <span className="ml-2 text-persimmon-deep">{(error as Error).message}</span>}
      </span>
    );
  const whole = proof === 'secret' ? `${address}/${data.secret}` : address;
  const copy = (text: string): void => void navigator.clipboard.writeText(text).then(() => toast('Copied'));
  return (
    <>
      <span className="mt-1 block rounded-control bg-sunk/60 px-3 py-2 font-mono text-xs break-all">
        {whole}
        <Button small look="quiet" icon={Copy} className="ml-2" onClick={() => copy(whole)}>
          Copy
        </Button>
        {proof === 'signature' && (
          <span className="mt-1 block">
            secret: {data.secret}
            <Button small look="quiet" icon={Copy} className="ml-2" onClick={() => copy(data.secret)}>
              Copy
            </Button>
          </span>
        )}
      </span>
      <Calls app={app} ownerKey={kept?.ownerKey ?? ''} routine={routine} calls={data.calls} />
    </>
  );
}

/** A sample of what is sent, to be called with; and the latest calls, each to be looked at and run again. */
function Calls({ app, ownerKey, routine, calls }: { app: string; ownerKey: string; routine: string; calls: HookCallKept[] }) {
  const id = useId();
  const queries = useQueryClient();
  const inputs = useApp().routines.find((r: Routine) => r.id === routine)?.inputs ?? [];
  const [typed, setTyped] = useState<string | null>(null);
  const [problem, setProblem] = useState('');
  const sample = typed ?? sampleCall(inputs);
  const call = async (body: string): Promise<void> => {
    setProblem('');
    try {
      await ask(`/api/apps/${app}/hooks/${routine}`, {
        method: 'POST',
        body,
        headers: { 'content-type': 'application/json' },
        key: ownerKey,
      });
      toast('Called. What it does is seen on the board.');
    } catch (e) {
      setProblem((e as Error).message);
    }
    await queries.invalidateQueries({ queryKey: ['hook', app, routine] });
  };
  return (
    <span className="mt-2 block">
      <label className="block text-sm font-semibold" htmlFor={id}>
        A sample of what is sent
      </label>
      <textarea
        id={id}
        className="mt-1 block w-full rounded-control border border-line bg-card px-3 py-2 font-mono text-xs"
        rows={Math.min(10, sample.split('\n').length)}
        value={sample}
        spellCheck={false}
        onChange={(e) => setTyped(e.target.value)}
      />
      <span className="mt-1.5 flex flex-wrap items-center gap-3">
        <Button small icon={Play} onClick={() => void call(sample)}>
          Call with the sample
        </Button>
        {problem && (
          <span role="alert" className="text-persimmon-deep">
            {problem}
          </span>
        )}
      </span>
      {calls.length > 0 && (
        <span className="mt-3 block">
          <b className="block text-sm font-semibold">The latest calls</b>
          {calls.map((c) => (
            <span key={c.id} className="flex items-center gap-3 border-t border-line py-1 first-of-type:border-0">
              <span className="shrink-0 text-sm text-ink-soft tabular-nums">{momentWords(c.at)}</span>
              <code className="min-w-0 flex-1 truncate font-mono text-xs" title={c.body ?? undefined}>
                {c.body ?? `${c.bytes.toLocaleString('en-GB')} bytes, too many to be kept`}
              </code>
              {c.refused && <span className="text-sm text-persimmon-deep">{c.refused}</span>}
              <Button small icon={RotateCcw} disabled={c.body === null} onClick={() => void call(c.body!)}>
                Run again
              </Button>
            </span>
          ))}
        </span>
      )}
    </span>
  );
} // prettier-ignore

import { useQuery } from '@tanstack/react-query';
import { Copy, Eye } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import { ask } from '../../player/link.ts';
import { useStudio } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';

/** The address that another system calls, with its secret once that is asked for. */
export function HookAddress({ routine, proof }: { routine: string; proof: 'secret' | 'signature' }) {
  const kept = useStudio((s) => s.kept);
  const [shows, setShows] = useState(false);
  const app = kept?.released?.address;
  const { data, error } = useQuery({
    queryKey: ['hook', app, routine],
    queryFn: () => ask<{ secret: string }>(`/api/apps/${app}/hooks/${routine}`, { key: kept?.ownerKey ?? '' }),
    enabled: shows && Boolean(app),
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
  );
}

import { Copy, ExternalLink, Trash2 } from 'lucide-react';
import QRCode from 'qrcode';
import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import { Button } from '../ui/controls.tsx';

/** Browsers give the clipboard to secure pages only. */
async function copyText(text: string): Promise<void> {
  try {
    await navigator.clipboard.writeText(text);
    toast('The link is copied.');
  } catch {
    toast.error('The link could not be copied. Mark it and copy it by hand.');
  }
}

/** The link to the released app, and its code to scan. */
export function LinkCard({
  url,
  local,
  host,
  onWithdraw,
}: {
  url: string;
  local: boolean;
  host: { online: boolean; waiting: number } | null;
  onWithdraw(): void;
}) {
  const [code, setCode] = useState('');
  useEffect(() => {
    void QRCode.toDataURL(url, { margin: 1, width: 264, color: { dark: '#1F2E2A', light: '#FFFDF8' } }).then(setCode);
  }, [url]);
  return (
    <section className="card flex items-center gap-6 px-5 py-4" aria-label="Link to the released app">
      {code && (
        <img
          src={code}
          alt={`Code to scan for ${url}`}
          width={132}
          height={132}
          className="rounded-lg border border-line"
        />
      )}
      <div className="min-w-0 flex-1">
        <h2 className="text-[16px]">Scan it, or send the link</h2>
        <p className="mt-0.5 truncate font-mono text-sm text-kelp" data-testid="release-link">
          {url}
        </p>
        <p className="mt-0.5 text-sm text-ink-soft">
          {local ? 'On this machine only for now.' : 'On phones in the same network.'}{' '}
          {host ? (host.online ? 'Records are in step.' : 'The server cannot be reached; changes wait here.') : ''} A
          new release reaches open phones by itself.
        </p>
        <div className="mt-3 flex flex-wrap gap-2">
          <Button small icon={Copy} onClick={() => void copyText(url)}>
            Copy the link
          </Button>
          <Button small icon={ExternalLink} onClick={() => window.open(url, '_blank', 'noopener')}>
            Open it
          </Button>
          <Button small look="danger" icon={Trash2} onClick={onWithdraw}>
            Remove it from the server
          </Button>
        </div>
      </div>
    </section>
  );
}

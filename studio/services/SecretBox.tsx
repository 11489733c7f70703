import { Check, KeyRound } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import type { Service, Where } from '../../core/services/schema.ts';
import { Button, Line } from '../ui/controls.tsx';
import { useSecrets } from './secrets.ts';

const WHAT: Record<Service['sign']['how'], string> = {
  client: 'Id:key',
  person: 'Token',
  none: 'Key',
  header: 'Key',
  query: 'Key',
  basic: 'Name:password',
  bearer: 'Token',
};

/** Takes a key once and gives it to the host. It cannot be read again, only replaced or taken away. */
export function SecretBox({ service, where }: { service: Service; where: Where }) {
  const secrets = useSecrets();
  const [text, setText] = useState('');
  const [changing, setChanging] = useState(false);
  const has = secrets.has(service, where);
  const what = WHAT[service.sign.how];
  const keep = async (secret: string | null): Promise<void> => {
    try {
      await secrets.keep(service, where, secret);
      setText('');
      setChanging(false);
      toast(
        secret === null ? 'The key is gone from the server.' : 'The server has the key now. It is not part of the app.',
      );
    } catch (e) {
      toast.error((e as Error).message);
    }
  };
  const label = service.live ? `${what}, ${where === 'live' ? 'for people' : 'to try'}` : what;
  return (
    <Line label={service.live ? (where === 'live' ? `${what} live` : `${what} to try`) : what}>
      {has && !changing ? (
        <>
          <span className="flex items-center gap-1.5 text-kelp">
            <Check size={14} aria-hidden /> with the server
          </span>
          <Button small look="quiet" onClick={() => setChanging(true)}>
            Replace it
          </Button>
          <Button small look="quiet" onClick={() => void keep(null)}>
            Take it away
          </Button>
        </>
      ) : (
        <>
          <input
            type="password"
            autoComplete="off"
            aria-label={label}
            className="field !w-72 font-mono text-sm"
            value={text}
            placeholder={
              service.sign.how === 'client'
                ? 'id:key'
                : service.sign.how === 'basic'
                  ? 'name:password'
                  : 'is kept by the server, and shown to nobody'
            }
            onChange={(e) => setText(e.target.value)}
            onKeyDown={(e) => e.key === 'Enter' && text && void keep(text)}
          />
          <Button small icon={KeyRound} disabled={!text} onClick={() => void keep(text)}>
            Give it to the host
          </Button>
          {changing && (
            <Button small look="quiet" onClick={() => setChanging(false)}>
              Leave it
            </Button>
          )}
        </>
      )}
    </Line>
  );
}

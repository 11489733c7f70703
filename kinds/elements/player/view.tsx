import { useState } from 'react';
import type { Drawn } from '../../../core/screens/element.ts';
import { usePlayer } from '../../../player/context.ts';
import { sizeOf } from '../../../player/ElementView.tsx';
import { useKept } from '../../../player/kept.ts';
import type { player } from './definition.ts';
import './player.css';

/** Only addresses that a sound or video can have. */
const safe = (address: string): boolean => /^(https?:|data:(audio|video)\/|blob:|\/)/i.test(address);

export default function PlayerView({ e }: { e: Drawn<typeof player> }) {
  const { api, tap } = usePlayer();
  const { url, lost, why } = useKept(api, e.address);
  const [failed, setFailed] = useState('');
  const plays = url && safe(url) && failed !== url;
  const what = e.label || (e.look === 'video' ? 'Video' : 'Sound');
  const plain = {
    controls: true,
    preload: 'metadata',
    src: url ?? undefined,
    'aria-label': what,
    onError: () => setFailed(url ?? ''),
    onEnded: () => e.ends === 'act' && tap(e.key, e.id, 'ends'),
  } as const;
  return (
    <figure className="k-player" data-e={e.id} style={sizeOf(e)}>
      {e.label && <figcaption>{e.label}</figcaption>}
      {!plays ? (
        <p className="k-player-none">{why ?? saidOf(e.address, Boolean(lost || url))}</p>
      ) : e.look === 'video' ? (
        <video {...plain} playsInline />
      ) : (
        <audio {...plain} />
      )}
    </figure>
  );
}

const saidOf = (address: string, failed: boolean): string =>
  !address ? 'There is nothing to play yet.' : failed ? 'This cannot be played here.' : 'It is coming.';

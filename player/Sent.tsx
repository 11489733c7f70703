import type { ReactNode } from 'react';
import type { Sending } from '../core/host/link.ts';

/** How far a picture or file is on its way. */
export default function Sent({ name, sent, of, more }: Sending): ReactNode {
  const share = of ? Math.floor((sent / of) * 100) : 100;
  return (
    <p className="r-sending" role="status">
      Sending {name}, {share} %{more ? `, ${more} more` : ''}
      <progress value={sent} max={of} aria-hidden />
    </p>
  );
}

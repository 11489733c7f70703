import type { Drawn } from '../../../core/screens/element.ts';
import { sizeOf } from '../../../player/ElementView.tsx';
import { useBarred } from '../../../player/context.ts';
import { barredSaid } from '../../../player/kept.ts';
import type { page } from './definition.ts';
import './page.css';

/** What a page may do inside its frame. Without an origin of its own it reaches nothing that the app keeps. */
const MAY = 'allow-scripts allow-forms allow-popups';

export default function PageView({ e }: { e: Drawn<typeof page> }) {
  const barred = useBarred(e.address);
  const safe = !barred && /^https:\/\/[^\s]+$/i.test(e.address);
  return (
    <div className="k-page" data-e={e.id} style={sizeOf(e)}>
      {safe ? (
        <iframe
          src={e.address}
          title={e.title}
          sandbox={MAY}
          referrerPolicy="no-referrer"
          loading="lazy"
          style={{ height: e.tall }}
        />
      ) : (
        <p className="k-empty">
          {barred
            ? barredSaid(barred)
            : e.address
              ? 'Only pages whose address begins with https:// are shown.'
              : 'No page is chosen yet.'}
        </p>
      )}
    </div>
  );
}

import { useState } from 'react';
import type { Drawn } from '../../../core/screens/element.ts';
import { sizeOf } from '../../../player/ElementView.tsx';
import { usePlayer } from '../../../player/context.ts';
import { isPicture, useKept } from '../../../player/kept.ts';
import { iconOf } from '../../../player/icons.tsx';
import type { picture } from './definition.ts';

/** Its own ratio gives way where both width and height are set. */
const ratioOf = ({ ratio }: Drawn<typeof picture>): { aspectRatio?: string } =>
  ratio === undefined || ratio === 'shape' ? {} : { aspectRatio: ratio === 'own' ? 'auto' : ratio };

export default function PictureView({ e }: { e: Drawn<typeof picture> }) {
  const [failed, setFailed] = useState('');
  const { url, lost, why } = useKept(usePlayer().api, e.address);
  const shown = url && isPicture(url) && failed !== url;
  const Icon = iconOf('image')!;
  return (
    <div
      className="k-picture"
      data-e={e.id}
      data-shape={e.shape}
      data-whole={e.whole || undefined}
      data-raised={e.raised || undefined}
      style={{ ...ratioOf(e), ...sizeOf(e), ...(e.corner !== undefined && { borderRadius: e.corner }) }}
    >
      {shown ? (
        <img src={url} alt={e.alt} loading="lazy" decoding="async" onError={() => setFailed(url)} />
      ) : (
        <span
          className="k-no-picture"
          role="img"
          title={why}
          aria-label={
            why ?? (!e.address ? 'No picture' : url || lost ? 'The picture cannot be loaded' : 'The picture is coming')
          }
        >
          <Icon size={20} aria-hidden />
          {e.shape === 'wide' && why}
        </span>
      )}
    </div>
  );
}

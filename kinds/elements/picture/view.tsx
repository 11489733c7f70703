import { useState } from 'react';
import type { Drawn } from '../../../core/screens/element.ts';
import { sizeOf } from '../../../player/ElementView.tsx';
import { iconOf } from '../../../player/icons.ts';
import type { picture } from './definition.ts';

/** Only addresses that a picture can have; anything else is no picture. */
const safePicture = (address: string): boolean => /^(https?:|data:image\/|blob:|\/)/i.test(address);

export default function PictureView({ e }: { e: Drawn<typeof picture> }) {
  const [failed, setFailed] = useState('');
  const shown = e.address && safePicture(e.address) && failed !== e.address;
  const Icon = iconOf('image')!;
  return (
    <div className="k-picture" data-e={e.id} data-shape={e.shape} style={sizeOf(e)}>
      {shown ? (
        <img src={e.address} alt={e.alt} loading="lazy" decoding="async" onError={() => setFailed(e.address)} />
      ) : (
        <span
          className="k-no-picture"
          role="img"
          aria-label={e.address ? 'The picture cannot be loaded' : 'No picture'}
        >
          <Icon size={20} aria-hidden />
        </span>
      )}
    </div>
  );
}

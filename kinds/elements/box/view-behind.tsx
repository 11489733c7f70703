import { isPicture, useKept } from '../../../player/kept.ts';
import { usePlayer } from '../../../player/context.ts';

/** The picture behind what a box holds. */
export default function Behind({ address }: { address: string }) {
  const { url } = useKept(usePlayer().api, address);
  return url && isPicture(url) ? <img className="k-behind" src={url} alt="" aria-hidden decoding="async" /> : null;
}

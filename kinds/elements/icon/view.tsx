import type { Drawn } from '../../../core/screens/element.ts';
import { useForm, usePlayer } from '../../../player/context.ts';
import { sizeOf } from '../../../player/ElementView.tsx';
import { iconOf } from '../../../player/icons.tsx';
import type { icon } from './definition.ts';
import './icon.css';

export default function IconView({ e }: { e: Drawn<typeof icon> }) {
  const { tap } = usePlayer();
  const form = useForm();
  const Icon = iconOf(e.icon);
  const look = { className: 'k-icon', 'data-e': e.id, 'data-colour': e.colour, 'data-ground': e.ground };
  if (e.tap === 'nothing')
    return (
      <span {...look} style={sizeOf(e)} aria-hidden>
        {Icon && <Icon size={e.size} />}
      </span>
    );
  const press = e.tap === 'save' && form ? form.save : () => tap(e.key, e.id);
  return (
    <button
      {...look}
      type="button"
      style={sizeOf(e)}
      aria-label={e.label}
      onClick={(ev) => {
        // In a row, the row is not pressed along with it.
        ev.stopPropagation();
        press();
      }}
    >
      {Icon && <Icon size={e.size} aria-hidden />}
    </button>
  );
}

import type { Drawn } from '../../../core/screens/element.ts';
import { useForm, usePlayer } from '../../../player/context.ts';
import { sizeOf } from '../../../player/ElementView.tsx';
import { iconOf } from '../../../player/icons.tsx';
import type { button } from './definition.ts';

/** What it is called aloud: by its words, or by its name where there are none, or only signs such as ♥. */
function calledBy({ words, name, icon }: Drawn<typeof button>): string | undefined {
  if (/[\p{L}\p{N}]/u.test(words)) return undefined;
  return [words, name ?? icon].filter(Boolean).join(' ');
}

export default function ButtonView({ e }: { e: Drawn<typeof button> }) {
  const { tap } = usePlayer();
  const form = useForm();
  const Icon = iconOf(e.icon);
  const saves = e.tap === 'save';
  if (saves && form?.refused) return null;
  return (
    <button
      type={saves && form ? 'submit' : 'button'}
      className="k-button"
      data-e={e.id}
      data-long={e.long === 'act' ? e.key : undefined}
      data-look={e.look}
      data-icon={e.iconAt}
      data-floats={e.floats || undefined}
      aria-label={calledBy(e)}
      style={sizeOf(e)}
      onClick={saves && form ? undefined : () => tap(e.key, e.id)}
      disabled={e.off || (form?.saving && saves)}
    >
      {Icon && <Icon size={18} aria-hidden />}
      {e.words && <span>{e.words}</span>}
    </button>
  );
}

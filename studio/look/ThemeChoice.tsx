import { clsx } from 'clsx';
import { themes } from '../../core/app/themes.ts';
import { FONTS } from '../../core/app/theme.ts';
import { useApp, useStudio } from '../state/studio.ts';

/** The finished themes, each in its own colours. Choosing one lets go of what was changed of the one before. */
export function ThemeChoice() {
  const app = useApp();
  const edit = useStudio((s) => s.edit);
  return (
    <div className="grid grid-cols-4 gap-2.5" role="radiogroup" aria-label="Theme">
      {themes().map((t) => (
        <button
          key={t.id}
          type="button"
          role="radio"
          aria-checked={app.look.theme === t.id}
          onClick={() =>
            void edit(`Chose the theme ${t.name}`, (a) => {
              a.look.theme = t.id;
              a.look.accent = null;
              delete a.look.own;
            })
          }
          className={clsx(
            'rounded-card border p-2.5 text-left',
            app.look.theme === t.id
              ? 'border-dusk shadow-[0_0_0_1px_var(--color-dusk)]'
              : 'border-line hover:border-line-strong',
          )}
          style={{ background: t.light.ground }}
        >
          <span className="flex gap-1.5">
            {[t.light.accent, t.light.tint, t.light.ink].map((c) => (
              <span
                key={c}
                className="size-5 border border-black/10"
                style={{ background: c, borderRadius: Math.min(10, t.corners) }}
              />
            ))}
          </span>
          <span
            className="mt-2 block font-semibold"
            style={{ color: t.light.ink, fontFamily: FONTS[t.headings === 'head' ? 'bricolage' : 'hanken'] }}
          >
            {t.name}
          </span>
        </button>
      ))}
    </div>
  );
}

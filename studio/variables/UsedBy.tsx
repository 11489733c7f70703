import { useNavigate } from 'react-router';
import type { Use } from '../../core/app/uses.ts';
import { useHome } from '../state/studio.ts';

/** What uses a thing, each with the way there. */
export function UsedBy({ uses, none }: { uses: readonly Use[]; none: string }) {
  const navigate = useNavigate();
  const home = useHome();
  const to = (u: Use): string =>
    u.scene
      ? `${home}/rehearse/${u.scene}`
      : u.routine
        ? `${home}/logic/${u.routine}`
        : u.table
          ? `${home}/data/${u.table}/${u.field ?? ''}`
          : `${home}/screens/${u.screen ?? 'tabs'}/${u.element ?? ''}`;
  return (
    <section className="card px-4 py-3">
      <h2 className="text-sm font-semibold text-ink-soft">Used by</h2>
      {uses.length === 0 && <p className="mt-1 text-ink-soft">{none}</p>}
      <ul className="mt-1">
        {uses.map((u, i) => (
          <li key={i}>
            <button
              type="button"
              onClick={() => void navigate(to(u))}
              className="py-0.5 text-left underline decoration-line-strong underline-offset-4"
            >
              {u.said}
            </button>
            {u.places.length > 0 && <span className="text-ink-soft">: {u.places.join(', ')}</span>}
          </li>
        ))}
      </ul>
    </section>
  );
}

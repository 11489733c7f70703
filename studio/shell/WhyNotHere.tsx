import { EyeOff } from 'lucide-react';
import { Link } from 'react-router';
import type { App } from '../../core/app/schema.ts';
import type { WhatPeopleSee } from '../engine/seeing.ts';
import { useHome } from '../state/studio.ts';

/** Why something is not on somebody’s phone: how many records of each table they get, and which screens are closed to them. */
export function WhyNotHere({
  app,
  data,
  person,
  onClose,
}: {
  app: App;
  /** What this one of the people sees; of nobody in particular where that is asked. */
  data: WhatPeopleSee;
  person: { id: string | null; title: string };
  onClose(): void;
}) {
  const home = useHome();
  const { roles = [], mayOpen = true } = data.people[0] ?? {};
  const ids = new Set(app.access?.roles.filter((r) => roles.includes(r.name)).map((r) => r.id));
  const closed = app.screens.filter((s) => s.roles && !s.roles.some((r) => ids.has(r)));
  const less = data.tables.filter((t) => t.of[0]!.seen < t.all);
  return (
    <section className="rounded-lg bg-sunk px-3 py-2 text-sm" aria-label="Why something is not here">
      <h3 className="flex items-center gap-1.5 font-text text-sm font-semibold tracking-normal">
        <EyeOff size={13} aria-hidden /> Not here for {person.title}
      </h3>
      {!mayOpen && <p>The app does not open for them: they are not let in.</p>}
      {less.length === 0 && closed.length === 0 && mayOpen && <p>Nothing: every record is theirs to see.</p>}
      <ul className="text-ink-soft">
        {less.slice(0, 6).map((t) => (
          <li key={t.id}>
            {t.of[0]!.seen === 0
              ? `No ${t.name}: no rule lets them see one`
              : `${(t.all - t.of[0]!.seen).toLocaleString('en-GB')} of ${t.all.toLocaleString('en-GB')} ${t.name}: no rule holds for those`}
          </li>
        ))}
        {less.length > 6 && <li>and less of {less.length - 6} more tables</li>}
        {closed.map((s) => (
          <li key={s.id}>The screen {s.name}: it is for other roles</li>
        ))}
      </ul>
      {person.id !== null && (
        <Link
          to={`${home}/people/sees?person=${person.id}`}
          className="font-semibold text-kelp hover:underline"
          onClick={onClose}
        >
          Record by record, with its rule
        </Link>
      )}
    </section>
  );
}

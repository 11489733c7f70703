import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { EyeOff } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Rule } from '../../core/app/access-schema.ts';
import { whereWords } from '../../core/records/conditions.ts';
import { chipLabel } from '../chips/paths.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { useModel } from '../state/model.ts';
import { useRevisions } from '../state/revisions.ts';
import { useApp, useEngine, useHome } from '../state/studio.ts';

/** The app's real records as somebody gets them, each with the rule by which it is there. */
export function WhatSees() {
  const app = useApp();
  const engine = useEngine();
  const home = useHome();
  const model = useModel();
  const revision = useRevisions((s) => s.revision);
  const [chosen, setPerson] = useState<string | null | undefined>(undefined);
  const { data: people = [] } = useQuery({
    queryKey: ['people', home, app.people, revision],
    queryFn: () => (app.people ? engine.phone.choices(app.people, '') : []),
    placeholderData: keepPreviousData,
  });
  // One of the people, until somebody is chosen.
  const person = chosen === undefined ? (people[0]?.id ?? null) : chosen;
  const { data } = useQuery({
    queryKey: ['sees', home, person, app, revision],
    queryFn: () => engine.seeing.whatSees(person),
    placeholderData: keepPreviousData,
  });
  const title = people.find((p) => p.id === person)?.title ?? 'somebody not signed in';
  const ruleWords = (id: string): string => {
    const rule = app.access?.rules.find((r) => r.id === id);
    return rule ? said(rule, app.access!.roles, (f) => chipLabel(model, f).label) : '';
  };
  return (
    <>
      <h1 className="sentence mb-1 text-xl">
        What can{' '}
        <ChoiceChip
          name="Whom you look at"
          value={person}
          choices={[
            { value: null as string | null, label: 'somebody not signed in' },
            ...people.map((p) => ({ value: p.id as string | null, label: p.title })),
          ]}
          onChange={setPerson}
        />{' '}
        see?
      </h1>
      <p className="mb-4 text-md text-ink-soft">
        {data?.roles.length
          ? `${title} has the ${data.roles.length === 1 ? 'role' : 'roles'} ${data.roles.join(', ')}. `
          : person
            ? `${title} has no role. `
            : ''}
        {data && !data.mayOpen
          ? 'The app does not open for them.'
          : 'These are the records as the server would send them.'}
      </p>
      {data?.tables.map((t) => (
        <details key={t.id} className="card mb-2" open={t.seen > 0 && t.all <= 30}>
          <summary className="flex cursor-pointer items-baseline gap-3 px-5 py-3">
            <b className="min-w-0 truncate font-semibold">{t.name}</b>
            <span className="flex-1 text-ink-soft">
              {t.all === 0
                ? 'no records'
                : t.seen === t.all
                  ? `all ${t.all.toLocaleString('en-GB')}`
                  : `${t.seen.toLocaleString('en-GB')} of ${t.all.toLocaleString('en-GB')}`}
              {t.adds && '; they could add some'}
            </span>
            <Link
              to={`${home}/people/${app.access?.rules.find((r) => r.table === t.id)?.id ?? 'rules'}`}
              className="text-sm font-semibold text-kelp hover:underline"
            >
              Rules
            </Link>
          </summary>
          <ul className="border-t border-line/70 py-2">
            {t.records.map((r) => (
              <li key={r.id} className="flex min-h-[32px] items-baseline gap-3 px-5 py-1">
                <span
                  className={r.rules.length ? 'w-56 shrink-0 truncate' : 'w-56 shrink-0 truncate text-ink-faint'}
                  title={r.title}
                >
                  {r.title}
                </span>
                <span className="min-w-0 flex-1 text-sm text-ink-soft">
                  {r.rules.length ? (
                    <>
                      {r.rules.map(ruleWords).join('; ')}
                      {r.hidden.length > 0 && `. Hidden: ${r.hidden.join(', ')}`}
                      {writeWords(r)}
                    </>
                  ) : (
                    <span className="inline-flex items-center gap-1.5 text-ink-faint">
                      <EyeOff size={13} aria-hidden /> no rule holds for it
                    </span>
                  )}
                </span>
              </li>
            ))}
            {t.all > t.records.length && (
              <li className="px-5 py-1 text-sm text-ink-faint">
                and {(t.all - t.records.length).toLocaleString('en-GB')} more
              </li>
            )}
          </ul>
        </details>
      ))}
    </>
  );
}

/** What somebody could do with a record, in words. */
function writeWords({ changes, removes }: { changes: string[] | null; removes: boolean }): string {
  const may = [
    ...(changes === null ? ['change all fields'] : changes.length ? [`change ${changes.join(', ')}`] : []),
    ...(removes ? ['remove it'] : []),
  ];
  return may.length ? `. They could ${may.join(', and ')}.` : '';
}

/** A rule in few words. */
function said(rule: Rule, roles: readonly { id: string; name: string }[], shown: (formula: string) => string): string {
  const who =
    rule.who === 'anybody'
      ? 'anybody'
      : rule.who === 'signed in'
        ? 'everybody signed in'
        : (roles.find((r) => r.id === rule.who)?.name ?? 'a role');
  const where = whereWords(rule.where, shown);
  return `${who} ${rule.may.includes('see') ? 'can see' : 'can'} ${where ? `those where ${where}` : 'all'}`;
}

import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { EyeOff } from 'lucide-react';
import { clsx } from 'clsx';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import type { Rule } from '../../core/app/access-schema.ts';
import { whereWords } from '../../core/records/conditions.ts';
import { chipLabel } from '../chips/paths.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { useModel } from '../state/model.ts';
import { useRevisions } from '../state/revisions.ts';
import type { SeenRecord, WhatPeopleSee } from '../engine/seeing.ts';
import { useApp, useEngine, useHome } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';

/** The app's real records as somebody gets them, each with the rule by which it is there; beside somebody else's, if wished. */
export function WhatSees() {
  const app = useApp();
  const engine = useEngine();
  const home = useHome();
  const model = useModel();
  const revision = useRevisions((s) => s.revision);
  const [asked] = useSearchParams();
  const [chosen, setPerson] = useState<string | null | undefined>(asked.get('person') ?? undefined);
  const [beside, setBeside] = useState<string | null | undefined>(undefined);
  const { data: people = [] } = useQuery({
    queryKey: ['people', home, app.people, revision],
    queryFn: () => (app.people ? engine.phone.choices(app.people, '') : []),
    placeholderData: keepPreviousData,
  });
  // One of the people, until somebody is chosen.
  const person = chosen === undefined ? (people[0]?.id ?? null) : chosen;
  const both = beside === undefined ? [person] : [person, beside];
  const { data } = useQuery({
    queryKey: ['sees', home, ...both, app, revision],
    queryFn: () => engine.seeing.whatSee(both),
    placeholderData: keepPreviousData,
  });
  // Until what was asked last is there, what is shown is of as many people as it was.
  const shown = data?.people.length === both.length ? data : undefined;
  const choices = [
    { value: null as string | null, label: 'somebody not signed in' },
    ...people.map((p) => ({ value: p.id as string | null, label: p.title })),
  ];
  const titleOf = (id: string | null): string => choices.find((c) => c.value === id)?.label ?? 'somebody removed';
  const ruleWords = (id: string): string => {
    const rule = app.access?.rules.find((r) => r.id === id);
    return rule ? said(rule, app.access!.roles, (f) => chipLabel(model, f).label) : '';
  };
  return (
    <>
      <h1 className="sentence mb-1 text-xl">
        What can <ChoiceChip name="Whom you look at" value={person} choices={choices} onChange={setPerson} />{' '}
        {beside !== undefined && (
          <>
            and <ChoiceChip name="Whom you compare with" value={beside} choices={choices} onChange={setBeside} />{' '}
          </>
        )}
        see?
      </h1>
      <div className="mb-4 flex items-start gap-4 text-md text-ink-soft">
        <p className="min-w-0 flex-1">
          {shown?.people.map((p, i) => `${whoWords(titleOf(both[i]!), both[i]!, p)} `)}
          {beside !== undefined
            ? 'What one of them gets and the other does not, or by another rule, comes first.'
            : 'These are the records as the server would send them.'}
        </p>
        <Button
          small
          onClick={() =>
            setBeside(beside === undefined ? (people.find((p) => p.id !== person)?.id ?? null) : undefined)
          }
        >
          {beside === undefined ? 'Beside somebody else' : 'One alone'}
        </Button>
      </div>
      {shown?.tables.map((t) => (
        <div key={`${t.id} ${both.length}`} className="relative">
          <details className="card mb-2" open={t.all <= 30 && t.of.some((o) => o.seen > 0)}>
            <summary className="flex cursor-pointer items-baseline gap-3 py-3 pr-20 pl-5">
              <b className="min-w-0 truncate font-semibold">{t.name}</b>
              <span className="flex-1 text-ink-soft">
                {t.of
                  .map((o, i) => `${both.length > 1 ? `${titleOf(both[i]!)} ` : ''}${countWords(t.all, o)}`)
                  .join(' · ')}
              </span>
            </summary>
            <ul className={clsx('border-t border-line/70 py-2', both.length > 1 && 'divide-y divide-line/70')}>
              {both.length > 1 && (
                <li className="flex gap-3 px-5 pb-1.5 text-sm font-semibold" aria-hidden>
                  <span className="w-32 shrink-0" />
                  {both.map((id, i) => (
                    <span key={i} className="min-w-0 flex-1 truncate">
                      {titleOf(id)}
                    </span>
                  ))}
                </li>
              )}
              {t.records.map((r) => (
                <li key={r.id} className="flex min-h-[32px] items-baseline gap-3 px-5 py-1">
                  <span
                    className={clsx(
                      'shrink-0 truncate',
                      both.length > 1 ? 'w-32' : 'w-56',
                      r.of.every((o) => !o.rules.length) && 'text-ink-faint',
                    )}
                    title={r.title}
                  >
                    {r.title}
                  </span>
                  {r.of.map((o, i) => (
                    <SeenWords key={i} of={o} ruleWords={ruleWords} />
                  ))}
                </li>
              ))}
              {t.all > t.records.length && (
                <li className="px-5 py-1 text-sm text-ink-faint">
                  and {(t.all - t.records.length).toLocaleString('en-GB')} more
                </li>
              )}
            </ul>
          </details>
          <Link
            to={`${home}/people/${app.access?.rules.find((r) => r.table === t.id)?.id ?? 'rules'}`}
            className="absolute top-3.5 right-5 text-sm font-semibold text-kelp hover:underline"
            aria-label={`Rules of ${t.name}`}
          >
            Rules
          </Link>
        </div>
      ))}
    </>
  );
}

const count = (n: number): string => n.toLocaleString('en-GB');
const countWords = (all: number, { seen, adds }: { seen: number; adds: boolean }): string =>
  `${all === 0 ? 'no records' : seen === all ? `all ${count(all)}` : `${count(seen)} of ${count(all)}`}${
    adds ? '; could add some' : ''
  }`;

function whoWords(title: string, person: string | null, { roles, mayOpen }: WhatPeopleSee['people'][number]): string {
  const has = roles.length
    ? `${title} has the ${roles.length === 1 ? 'role' : 'roles'} ${roles.join(', ')}.`
    : person
      ? `${title} has no role.`
      : '';
  return mayOpen ? has : `${has} The app does not open for ${person ? title : 'somebody not signed in'}.`.trim();
}

/** Why somebody gets a record or not, and what they could do with it. */
function SeenWords({ of, ruleWords }: { of: SeenRecord; ruleWords(id: string): string }) {
  return (
    <span className="min-w-0 flex-1 text-sm text-ink-soft">
      {of.rules.length ? (
        <>
          {of.rules.map(ruleWords).join('; ')}
          {of.hidden.length > 0 && `. Hidden: ${of.hidden.join(', ')}`}
          {writeWords(of)}
        </>
      ) : (
        <span className="inline-flex items-center gap-1.5 text-ink-faint">
          <EyeOff size={13} aria-hidden /> no rule holds for it
        </span>
      )}
    </span>
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

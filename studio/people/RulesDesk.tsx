import { clsx } from 'clsx';
import { Plus } from 'lucide-react';
import { useState } from 'react';
import { addRule, cellWords, rulesFor } from '../../core/app/access-edits.ts';
import type { AppAccess, Rule } from '../../core/app/access-schema.ts';
import { useApp, useEdit } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';
import { NeedApproval } from './NeedApproval.tsx';
import { RuleSentence } from './RuleSentence.tsx';

/** Who may do what: tables down, roles across, and the sentences behind each cell. */
export function RulesDesk({ access, open }: { access: AppAccess; open: Rule | undefined }) {
  const app = useApp();
  const edit = useEdit();
  const columns: { who: Rule['who']; name: string }[] = [
    ...(access.opens === 'anybody' ? [{ who: 'anybody' as const, name: 'Anybody' }] : []),
    { who: 'signed in', name: 'Everybody signed in' },
    ...access.roles.map((r) => ({ who: r.id, name: r.name })),
  ];
  const tables = app.tables.filter((t) => !t.fetched);
  const [cell, setCell] = useState<{ who: Rule['who']; table: string }>(() => ({
    who: open?.who ?? 'signed in',
    table: open?.table ?? tables[0]?.id ?? '',
  }));
  const table = tables.find((t) => t.id === cell.table);
  const who = columns.find((c) => c.who === cell.who) ?? columns[0]!;
  const rules = table ? rulesFor(access, who.who, table.id) : [];
  const own = rules.filter((r) => r.who === who.who);
  const also = rules.filter((r) => r.who !== who.who);
  return (
    <>
      <h1 className="mb-1 text-xl">Rules</h1>
      <p className="mb-4 text-md text-ink-soft">Rules add up. What none of them allows is not possible.</p>
      <div className="card thin-scroll mb-4 max-h-[356px] overflow-auto">
        <table className="w-full border-collapse text-left" aria-label="Who may do what">
          <thead>
            <tr className="sticky top-0 z-10 bg-paper shadow-[0_1px_0_var(--color-line)]">
              <td className="px-4 py-2" />
              {columns.map((c) => (
                <th key={c.who} scope="col" className="min-w-[130px] px-3 py-2 font-semibold">
                  {c.name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {tables.map((t) => (
              <tr key={t.id} className="border-t border-line/70">
                <th scope="row" className="max-w-[180px] truncate px-4 py-1 font-semibold" title={t.name}>
                  {t.name}
                </th>
                {columns.map((c) => {
                  const words = cellWords(rulesFor(access, c.who, t.id));
                  const here = c.who === who.who && t.id === cell.table;
                  return (
                    <td key={c.who} className="p-0.5">
                      <button
                        type="button"
                        aria-pressed={here}
                        onClick={() => setCell({ who: c.who, table: t.id })}
                        className={clsx(
                          'min-h-[34px] w-full rounded-md px-2.5 py-1 text-left text-sm leading-snug',
                          here ? 'bg-kelp-wash font-semibold text-kelp' : 'hover:bg-sunk',
                          !words && 'text-ink-faint',
                        )}
                      >
                        {words || 'nothing'}
                      </button>
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {table && (
        <section aria-label={`${who.name} and ${table.name}`}>
          <div className="mb-2 flex items-baseline gap-3">
            <h2 className="min-w-0 flex-1 truncate text-[15px]">
              {who.name} and {table.name}
            </h2>
            <Button
              small
              icon={Plus}
              onClick={() =>
                void edit(
                  `Added a rule about ${table.name}`,
                  (a) => void addRule(a.access as AppAccess, who.who, table.id),
                )
              }
            >
              Add a rule
            </Button>
          </div>
          {own.map((r) => (
            <RuleSentence key={r.id} rule={r} who={who.name} table={table} />
          ))}
          {own.length === 0 && (
            <p className="card mb-2 px-5 py-3.5 text-ink-soft">
              {also.length ? 'No rule is for them alone.' : `They cannot see ${table.name}: no rule allows it.`}
            </p>
          )}
          {also.length > 0 && (
            <>
              <h3 className="mt-4 mb-2 text-sm font-semibold text-ink-soft">For them as for everybody</h3>
              {also.map((r) => (
                <RuleSentence
                  key={r.id}
                  rule={r}
                  who={r.who === 'anybody' ? 'Anybody' : 'Everybody signed in'}
                  table={table}
                />
              ))}
            </>
          )}
        </section>
      )}
      <NeedApproval access={access} />
    </>
  );
}

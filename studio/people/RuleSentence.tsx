import { Trash2 } from 'lucide-react';
import { MAY, mayWords, type AppAccess, type May, type Rule } from '../../core/app/access-schema.ts';
import type { Table } from '../../core/tables/schema.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { Chip } from '../chips/Chip.tsx';
import { WhereSentence } from '../chips/WhereSentence.tsx';
import { useEdit } from '../state/studio.ts';
import { useNotes } from '../state/notes.ts';
import { IconButton, Note } from '../ui/controls.tsx';
import { Popover } from '../ui/popover.tsx';
import { Ticks } from '../ui/Ticks.tsx';

const FIELDS = { all: 'all fields', only: 'only', 'all but': 'all fields but' } as const;

/** A rule as a sentence: who can do what with which records, and with which of their fields. */
export function RuleSentence({ rule, who, table }: { rule: Rule; who: string; table: Table }) {
  const edit = useEdit();
  const notes = useNotes().filter((n) => n.rule === rule.id);
  const change = (label: string, recipe: (r: Rule) => void): void =>
    void edit(label, (a) => recipe((a.access as AppAccess).rules.find((r) => r.id === rule.id)! as Rule));
  const remove = (): void =>
    void edit(`Removed a rule about ${table.name}`, (a) => {
      const access = a.access as AppAccess;
      access.rules = access.rules.filter((r) => r.id !== rule.id);
    });
  const press = (words: string, does: () => void) => (
    <button type="button" className="font-semibold underline" onClick={does}>
      {words}
    </button>
  );
  const named = new Set(rule.fields?.of);
  const can = rule.may.map(mayWords).join(', ');
  const names =
    table.fields
      .filter((f) => named.has(f.id))
      .map((f) => f.name)
      .join(', ') || 'choose fields';
  return (
    <div className="card sentence mb-2 flex items-start gap-2 px-5 py-3">
      <div className="min-w-0 flex-1">
        <b className="font-semibold text-ink">{who}</b> can{' '}
        <Popover width={200} trigger={<Chip aria-label={`What they can do: ${can}`}>{can}</Chip>}>
          {() => (
            <Ticks
              label="What they can do"
              of={MAY.map((m) => [m, mayWords(m)])}
              on={new Set<string>(rule.may)}
              change={(on) =>
                on.size > 0 &&
                change(`Changed what ${who} can do with ${table.name}`, (r) => {
                  r.may = MAY.filter((m: May) => on.has(m));
                })
              }
            />
          )}
        </Popover>{' '}
        <WhereSentence
          lead={`${table.name} where`}
          bare="any"
          where={rule.where}
          grouped
          place={{ self: table.id, things: [] }}
          onChange={(where) => change(`Changed which ${table.name} a rule is about`, (r) => void (r.where = where))}
        />
        , with{' '}
        <ChoiceChip
          name="Which fields"
          value={(rule.fields?.are ?? 'all') as keyof typeof FIELDS}
          choices={(['all', 'only', 'all but'] as const).map((value) => ({
            value,
            label: FIELDS[value],
          }))}
          onChange={(are) =>
            change(`Changed which fields of ${table.name} a rule is about`, (r) => {
              if (are === 'all') delete r.fields;
              else r.fields = { are, of: r.fields?.of ?? [] };
            })
          }
        />
        {rule.fields && (
          <>
            {' '}
            <Popover
              width={260}
              trigger={
                <Chip tone="data" aria-label={`Fields: ${names}`}>
                  {names}
                </Chip>
              }
            >
              {() => (
                <Ticks
                  label="Fields"
                  of={table.fields.map((f) => [f.id, f.name])}
                  on={named}
                  change={(on) =>
                    change(`Changed which fields of ${table.name} a rule is about`, (r) => {
                      r.fields!.of = table.fields.filter((f) => on.has(f.id)).map((f) => f.id);
                    })
                  }
                />
              )}
            </Popover>
          </>
        )}
        .
        {rule.meant && (
          <>
            {' '}
            That people can give roles by it{' '}
            <ChoiceChip
              name="Is it meant?"
              value="meant"
              choices={[
                { value: 'meant', label: 'is meant' },
                { value: 'not', label: 'is not meant' },
              ]}
              onChange={(v) => v === 'not' && change('A rule is looked at again', (r) => void delete r.meant)}
            />
            .
          </>
        )}
        {notes.map((n) => (
          <div key={n.said} className="mt-2">
            <Note
              tone={n.severity === 'stops' ? 'bad' : 'look'}
              {...(n.mend === 'remove' && { action: press('Remove it', remove) })}
              {...(n.said.endsWith('say that it is meant.') && {
                action: press('It is meant', () =>
                  change('That people can give roles by a rule is meant', (r) => void (r.meant = true)),
                ),
              })}
            >
              {n.said}
            </Note>
          </div>
        ))}
      </div>
      <IconButton icon={Trash2} label="Remove this rule" onClick={remove} />
    </div>
  );
}

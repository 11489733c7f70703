import type { Field, Table } from '../../core/tables/schema.ts';
import type { Link } from '../../core/document/pieces.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { leadLink } from '../../core/app/edits.ts';
import { useApp, useStudio } from '../state/studio.ts';
import { NameField } from '../ui/NameField.tsx';
import { FIELD_ICONS } from './fields.ts';
import type { Change } from './TypeSettings.tsx';

/** A link as a sentence: where it leads, whether it is picked or matched, and what the other end calls it. */
export function LinkSentence({
  table,
  field,
  link,
  change,
  onSeveral,
}: {
  table: Table;
  field: Field;
  link: Link;
  change: Change;
  onSeveral(several: boolean): void;
}) {
  const app = useApp();
  const edit = useStudio((s) => s.edit);
  const target = app.tables.find((t) => t.id === link.table);
  const plain = (t: Table | undefined) =>
    (t?.fields ?? [])
      .filter((f) => !f.link && f.type !== 'formula' && !f.several)
      .map((f) => ({ value: f.id, label: f.name, icon: FIELD_ICONS[f.type] }));
  const set = (patch: Partial<Link>): void =>
    change(`Changed the link ${field.name}`, (f) => {
      f.link = { ...f.link!, ...patch };
      if (patch.kind === 'matched') delete f.several;
    });
  return (
    <p className="sentence mt-1">
      Each {table.one} leads to{' '}
      {link.kind === 'picked' ? (
        <ChoiceChip
          name="One or several"
          value={field.several ?? false}
          choices={[
            { value: false, label: 'one of' },
            { value: true, label: 'several of' },
          ]}
          onChange={onSeveral}
        />
      ) : (
        'one of'
      )}{' '}
      <ChoiceChip
        tone="data"
        name="Linked table"
        value={link.table}
        choices={app.tables.filter((t) => t.id !== table.id).map((t) => ({ value: t.id, label: t.name }))}
        onChange={(t) =>
          void edit(`Changed where the link ${field.name} leads`, (a) =>
            leadLink(a as typeof app, table.id, field.id, t),
          )
        }
      />{' '}
      <ChoiceChip
        name="Kind of link"
        value={link.kind}
        choices={[
          { value: 'picked' as const, label: field.several ? 'that are picked' : 'that is picked' },
          { value: 'matched' as const, label: 'that matches' },
        ]}
        onChange={(kind) =>
          set(
            kind === 'matched'
              ? { kind, from: link.from ?? plain(table)[0]?.value, to: link.to ?? plain(target)[0]?.value }
              : { kind },
          )
        }
      />
      {link.kind === 'matched' && (
        <>
          {' '}
          when its{' '}
          <ChoiceChip
            name="Field here"
            value={link.from ?? null}
            choices={plain(table)}
            onChange={(from) => set({ from })}
          />{' '}
          is the same as the {target?.one}’s{' '}
          <ChoiceChip
            name="Field there"
            value={link.to ?? null}
            choices={plain(target)}
            onChange={(to) => set({ to })}
          />
        </>
      )}
      . From there they are called{' '}
      <NameField
        value={link.backName}
        label="Name from the other end"
        onChange={(backName) => set({ backName })}
        className="font-semibold text-ink"
      />
      .
    </p>
  );
}

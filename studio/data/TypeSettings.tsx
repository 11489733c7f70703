import type { ComponentType } from 'react';
import type { Field, Table } from '../../core/tables/schema.ts';

export type Change = (label: string, recipe: (f: Field) => void, merge?: string) => void;

export interface SettingsProps {
  table: Table;
  field: Field;
  change: Change;
}

// One file a type; most need to be told nothing.
const files = import.meta.glob<{ default: ComponentType<SettingsProps> }>('../../kinds/fields/*/settings.tsx', {
  eager: true,
});

/** What the type of a field needs to be told: a unit, choices, the plan, the other end of a link. */
export function TypeSettings(props: SettingsProps) {
  const Own = files[`../../kinds/fields/${props.field.type}/settings.tsx`]?.default;
  return Own ? <Own {...props} /> : null;
}

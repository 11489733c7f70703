import type { FieldValue, HEIGHTS, OPENS } from '../../core/document/pieces.ts';
import { fieldKind } from '../../core/fields/kinds.ts';
import { useApp } from '../state/studio.ts';
import { ChoiceChip } from './ChoiceChip.tsx';
import { FieldValues } from './FieldValues.tsx';
import type { FormulaPlace } from './place.ts';

interface How {
  /** The record that the screen is given. */
  give?: string | undefined;
  as?: (typeof OPENS)[number] | undefined;
  height?: (typeof HEIGHTS)[number] | undefined;
  values?: FieldValue[] | undefined;
}

/** How a screen opens: over the one before, in its place or as a sheet, and what its variables and its form begin with. */
export function OpensHow({
  how,
  screen,
  place,
  onChange,
}: {
  how: How;
  screen: string;
  place: FormulaPlace;
  onChange(how: How): void;
}) {
  const app = useApp();
  const target = app.screens.find((s) => s.id === screen);
  if (!target) return null;
  const variables = (app.variables ?? []).filter((v) => v.screen === screen);
  // A form for a new record begins with what it is told here.
  const isNew = target.optional && (!how.give || how.give === 'null');
  const fields = isNew ? (app.tables.find((t) => t.id === target.given)?.fields ?? []) : [];
  const own = [...variables, ...fields.filter((f) => !fieldKind(f.type).keptByApp)];
  return (
    <>
      {' '}
      <ChoiceChip
        name="How it opens"
        value={how.as === 'sheet' ? `sheet ${how.height ?? 'half'}` : (how.as ?? 'over')}
        choices={[
          { value: 'over', label: 'over this screen' },
          { value: 'instead', label: 'in place of this screen' },
          { value: 'sheet low', label: 'as a low sheet' },
          { value: 'sheet half', label: 'as a sheet of half the height' },
          { value: 'sheet full', label: 'as a sheet of the whole height' },
        ]}
        onChange={(chosen) => {
          const [as, height] = chosen.split(' ') as [NonNullable<How['as']>, How['height']];
          onChange({ as: as === 'over' ? undefined : as, height });
        }}
      />
      {own.length > 0 && (
        <>
          {' '}
          beginning with{' '}
          <FieldValues
            fields={own}
            values={how.values ?? []}
            place={place}
            joiner="as"
            onChange={(values) => onChange({ values: values.length ? values : undefined })}
          />
        </>
      )}
    </>
  );
}

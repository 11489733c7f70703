import type { SettingsProps } from '../../../studio/data/TypeSettings.tsx';

export default function IdSettings({ table, field, change }: SettingsProps) {
  return (
    <p className="sentence mt-1">
      Each new {table.one} gets one of its own, beginning with{' '}
      <input
        aria-label="What ids begin with"
        value={field.prefix ?? ''}
        placeholder="nothing"
        maxLength={12}
        onChange={(e) =>
          change(
            `Set what ${field.name} begins with`,
            (f) => {
              if (e.target.value) f.prefix = e.target.value;
              else delete f.prefix;
            },
            `prefix-${field.id}`,
          )
        }
        className="field mx-1 !inline !w-24"
      />
      .
    </p>
  );
}

import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import type { SettingsProps } from '../../../studio/data/TypeSettings.tsx';

export default function YesNoSettings({ field, change }: SettingsProps) {
  return (
    <p className="sentence mt-1">
      It is{' '}
      <ChoiceChip
        name="What it can be"
        value={field.unknown ? 'three' : 'two'}
        choices={[
          { value: 'two', label: 'yes or no', hint: 'without an answer it is no' },
          { value: 'three', label: 'yes, no or not answered', hint: 'without an answer it is empty' },
        ]}
        onChange={(v) =>
          change(`Changed what ${field.name} can be`, (f) => {
            if (v === 'three') f.unknown = true;
            else delete f.unknown;
          })
        }
      />
      .
    </p>
  );
}

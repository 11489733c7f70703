import { ChoiceChip } from '../chips/ChoiceChip.tsx';

type How = 'raise' | 'lower';

/** Which way an amount goes. */
export function RaiseOrLower({ how, onChange }: { how: How; onChange(how: How): void }) {
  return (
    <ChoiceChip
      name="Raise or lower"
      value={how}
      choices={[
        { value: 'raise', label: 'raise' },
        { value: 'lower', label: 'lower' },
      ]}
      onChange={(next) => onChange(next as How)}
    />
  );
}

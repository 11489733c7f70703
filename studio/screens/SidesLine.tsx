import { LayoutGrid, Minus } from 'lucide-react';
import { ChoiceChip, type Choice } from '../chips/ChoiceChip.tsx';
import { IconButton, Line } from '../ui/controls.tsx';
import { NumberBox } from '../ui/TypedBox.tsx';

const NAMES = {
  side: ['above', 'at the right', 'below', 'at the left'],
  corner: ['top left', 'top right', 'bottom right', 'bottom left'],
} as const;

/** One length for all sides or corners, or one for each. */
export function SidesLine<T extends number | null>({
  label,
  of,
  value,
  each,
  choices,
  onChange,
  onEach,
}: {
  label: string;
  of: keyof typeof NAMES;
  value: T;
  each: readonly number[] | undefined;
  choices: readonly Choice<T>[];
  onChange(v: T): void;
  onEach(v: number[] | undefined): void;
}) {
  const differ = each !== undefined && (of === 'side' || each.some((n) => n !== each[0]));
  if (!differ)
    return (
      <Line label={label}>
        <ChoiceChip name={label} value={value} choices={choices} onChange={onChange} />
        <IconButton
          icon={LayoutGrid}
          size={13}
          label={`${label}: one for each ${of}`}
          onClick={() => {
            const n = value ?? 8;
            // Of corners the first is a little rounder, so that they are seen to differ.
            onEach(of === 'side' ? [n, n, n, n] : [n + 4, n, n, n]);
          }}
        />
      </Line>
    );
  return (
    <Line label={label}>
      {NAMES[of].map((name, i) => (
        <NumberBox
          key={name}
          least={0}
          most={200}
          title={name}
          label={`${label} ${name}`}
          className="!w-13"
          value={each[i]}
          onChange={(n) => onEach(each.map((x, k) => (k === i ? n! : x)))}
        />
      ))}
      <IconButton
        icon={Minus}
        size={13}
        label={`${label}: the same for each ${of}`}
        onClick={() => (of === 'side' ? onEach(undefined) : onEach([each[1]!, each[1]!, each[1]!, each[1]!]))}
      />
    </Line>
  );
}

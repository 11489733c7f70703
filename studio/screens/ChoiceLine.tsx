import type { Property } from '../../core/document/meaning.ts';
import { Line, Segmented } from '../ui/controls.tsx';
import { choicesOf } from './properties.ts';

/** A property with a few fixed values, side by side, in the words of its definition. */
export function ChoiceLine<T extends string>({
  label,
  property,
  value,
  onChange,
}: {
  label: string;
  property: Property<T> | Property<T | undefined>;
  value: T;
  onChange(v: T): void;
}) {
  return (
    <Line label={label}>
      <Segmented
        label={label}
        value={value}
        options={choicesOf(property).map((c) => [c.value as T, c.label] as const)}
        onChange={onChange}
      />
    </Line>
  );
}

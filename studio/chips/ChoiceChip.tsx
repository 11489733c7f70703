import { Command } from 'cmdk';
import type { LucideProps } from 'lucide-react';
import { useState, type ComponentType, type ReactNode } from 'react';
import { Popover } from '../ui/popover.tsx';
import { Chip, type ChipTone } from './Chip.tsx';

export interface Choice<T> {
  value: T;
  label: string;
  /** What stands at the right: a sample value, a count. */
  hint?: string | undefined;
  group?: string;
  icon?: ComponentType<LucideProps> | undefined;
}

export const itemClass =
  'flex min-h-[30px] cursor-pointer items-center gap-2 rounded-md px-2 data-[selected=true]:bg-sunk';
export const groupClass =
  '[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:pb-1 [&_[cmdk-group-heading]]:text-xs [&_[cmdk-group-heading]]:font-semibold [&_[cmdk-group-heading]]:text-ink-faint';

/** Search on top, choices below in their groups, and whatever comes last. */
export function ChoiceList<T>({
  choices,
  onChoose,
  placeholder = 'Search',
  footer,
  onType,
  onLook,
  children,
}: {
  choices: readonly Choice<T>[];
  onChoose(v: T): void;
  /** Told which choice the mouse or the keys are at; null when nothing is found. */
  onLook?: (v: T | null) => void;
  placeholder?: string;
  footer?: ReactNode;
  onType?: (text: string) => void;
  children?: ReactNode;
}) {
  const groups = [...new Set(choices.map((c) => c.group ?? ''))];
  const [text, setText] = useState('');
  const keyOf = (g: string, c: Choice<T>, i: number): string => `${g} ${c.label} ${i}`.trim();
  const [at, setAt] = useState('');
  const lookAt = (key: string): void => {
    setAt(key);
    const found = groups.flatMap((g) =>
      choices.filter((c) => (c.group ?? '') === g).filter((c, i) => keyOf(g, c, i) === key),
    );
    onLook?.(found[0]?.value ?? null);
  };
  return (
    <Command className="p-1.5" loop {...(onLook && { value: at, onValueChange: lookAt })}>
      {(choices.length > 6 || onType) && (
        <Command.Input
          value={text}
          onValueChange={(t) => {
            setText(t);
            onType?.(t);
          }}
          placeholder={placeholder}
          aria-label={placeholder}
          className="field mb-1"
          autoFocus
        />
      )}
      <Command.List className="max-h-72 overflow-auto thin-scroll">
        {children}
        {!onType && (
          <Command.Empty className="px-2 py-3 text-ink-faint">Nothing found. Try other letters.</Command.Empty>
        )}
        {groups.map((g) => (
          <Command.Group key={g} heading={g || undefined} className={groupClass}>
            {choices
              .filter((c) => (c.group ?? '') === g)
              .map((c, i) => (
                <Command.Item
                  key={`${g}${i}`}
                  value={keyOf(g, c, i)}
                  onSelect={() => onChoose(c.value)}
                  className={itemClass}
                >
                  {c.icon && <c.icon size={14} className="shrink-0 text-ink-faint" aria-hidden />}
                  <span className="min-w-0 flex-1 truncate">{c.label}</span>
                  {c.hint && <span className="max-w-32 truncate text-xs text-ink-faint">{c.hint}</span>}
                </Command.Item>
              ))}
          </Command.Group>
        ))}
      </Command.List>
      {footer}
    </Command>
  );
}

/** A chip that takes one of several choices. */
export function ChoiceChip<T>({
  label,
  value,
  choices,
  onChange,
  tone,
  icon,
  name,
  empty,
  width,
}: {
  label?: string;
  value: T | null;
  choices: readonly Choice<T>[];
  onChange(v: T): void;
  tone?: ChipTone;
  icon?: ComponentType<LucideProps>;
  name: string;
  empty?: string;
  width?: number;
}) {
  const chosen = choices.find((c) => c.value === value);
  const shown = label ?? chosen?.label ?? empty ?? 'choose';
  const missing = !label && !chosen;
  return (
    <Popover
      width={width ?? 260}
      trigger={
        <Chip tone={missing ? 'empty' : (tone ?? 'plain')} icon={icon ?? chosen?.icon} aria-label={`${name}: ${shown}`}>
          {shown}
        </Chip>
      }
    >
      {(close) => (
        <ChoiceList
          choices={choices}
          onChoose={(v) => {
            onChange(v);
            close();
          }}
        />
      )}
    </Popover>
  );
}

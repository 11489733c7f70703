import { Command } from 'cmdk';
import type { LucideProps } from 'lucide-react';
import { useMemo, useState, type ComponentType, type KeyboardEvent, type ReactNode } from 'react';
import type { SearchWords } from '../../core/document/search-words.ts';
import { searchOf } from '../find/search.ts';
import { Popover } from '../ui/popover.tsx';
import { Chip, type ChipTone } from './Chip.tsx';

export interface Choice<T> {
  value: T;
  label: string;
  /** At the right: a sample value, a count. */
  hint?: string | undefined;
  group?: string;
  /** What people look for it by, beside its label. */
  words?: SearchWords | undefined;
  icon?: ComponentType<LucideProps> | undefined;
}

export const itemClass =
  'flex min-h-[30px] cursor-pointer items-center gap-2 rounded-md px-2 data-[selected=true]:bg-sunk';
export const groupClass =
  '[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:pb-1 [&_[cmdk-group-heading]]:text-xs [&_[cmdk-group-heading]]:font-semibold [&_[cmdk-group-heading]]:text-ink-faint';

/** Menus with more entries than this have a box to search them; shorter ones are typed into by first letters. */
const MOST_WITHOUT_SEARCH = 8;

/**
 * Search on top, choices below in their groups, and whatever comes last. What is typed finds choices by their names, by
 * the words people use for them and by their hints, the best first.
 */
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
  /** Before the choices: what was typed, as a value. A choice that is called so whole comes before it. */
  children?: ReactNode;
}) {
  const [text, setText] = useState('');
  const searching = text.trim() !== '';
  const search = useMemo(
    () => (searching ? searchOf(choices.map((c) => ({ ...c, name: c.label }))) : null),
    [choices, searching],
  );
  const found: Choice<T>[] = search
    ? unique(search(text).map(({ it, says }) => ({ ...it, hint: says ?? it.hint ?? it.group })))
    : [];
  const groups = searching
    ? [{ name: '', list: found }]
    : [...new Set(choices.map((c) => c.group ?? ''))].map((name) => ({
        name,
        list: choices.filter((c) => (c.group ?? '') === name),
      }));
  const wanted = text.trim().toLowerCase();
  const named = found.some((c) => c.label.toLowerCase().split(' › ').at(-1) === wanted);
  const keyOf = (group: string, c: Choice<T>, i: number): string => `${group} ${c.label} ${i}`.trim();
  const [at, setAt] = useState('');
  const lookAt = (key: string): void => {
    setAt(key);
    const looked = groups.flatMap((g) => g.list.filter((c, i) => keyOf(g.name, c, i) === key));
    onLook?.(looked[0]?.value ?? null);
  };
  const boxed = choices.length > MOST_WITHOUT_SEARCH || Boolean(onType);
  const firstLetter = (e: KeyboardEvent<HTMLElement>): void => {
    if (boxed || e.key.length !== 1 || e.ctrlKey || e.metaKey || e.altKey) return;
    const all = groups.flatMap((g) => g.list.map((c, i) => ({ key: keyOf(g.name, c, i), label: c.label })));
    const fits = all.filter((c) => c.label.toLowerCase().startsWith(e.key.toLowerCase()));
    if (!fits.length) return;
    // The same letter again goes on to the next that begins with it.
    const here = fits.findIndex((c) => c.key === at);
    lookAt(fits[(here + 1) % fits.length]!.key);
    e.preventDefault();
  };
  return (
    <Command
      className="p-1.5 outline-none"
      loop
      shouldFilter={false}
      value={at}
      onValueChange={lookAt}
      onKeyDown={firstLetter}
      {...(!boxed && { tabIndex: 0, ref: focusIt })}
    >
      {boxed && (
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
        {!named && children}
        {!onType && searching && found.length === 0 && (
          <p className="px-2 py-3 text-ink-faint">Nothing is called “{text.trim()}”. Try another word.</p>
        )}
        {groups.map((g) => (
          <Command.Group key={g.name} heading={g.name || undefined} className={groupClass}>
            {g.list.map((c, i) => (
              <Command.Item
                key={`${g.name}${i}`}
                value={keyOf(g.name, c, i)}
                onSelect={() => onChoose(c.value)}
                className={itemClass}
              >
                {c.icon && <c.icon size={14} className="shrink-0 text-ink-faint" aria-hidden />}
                <span className="min-w-0 flex-1 truncate">{c.label}</span>
                {c.hint && (
                  <span title={c.hint} className="max-w-[55%] shrink truncate text-xs text-ink-faint">
                    {c.hint}
                  </span>
                )}
              </Command.Item>
            ))}
          </Command.Group>
        ))}
        {named && children}
      </Command.List>
      {footer}
    </Command>
  );
}

/** A choice that is offered in two groups is found once. */
function unique<T>(found: readonly Choice<T>[]): Choice<T>[] {
  const labels = new Map<T, Set<string>>();
  return found.filter((c) => {
    const seen = labels.get(c.value) ?? new Set();
    labels.set(c.value, seen);
    return !seen.has(c.label) && seen.add(c.label);
  });
}
const focusIt = (e: HTMLElement | null): void => e?.focus();

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

import { clsx } from 'clsx';

import type { LucideProps } from 'lucide-react';
import { ToggleGroup, Tooltip } from 'radix-ui';
import type { ButtonHTMLAttributes, ComponentType, ReactNode, Ref } from 'react';

type ButtonProps = ButtonHTMLAttributes<HTMLButtonElement> & {
  look?: 'main' | 'plain' | 'quiet' | 'danger';
  icon?: ComponentType<LucideProps>;
  small?: boolean;
  ref?: Ref<HTMLButtonElement>;
};

/** A button. A view has one of the look `main`. */
export function Button({ look = 'plain', icon: Icon, small = false, className, children, ...rest }: ButtonProps) {
  return (
    <button
      type="button"
      className={clsx(
        'inline-flex shrink-0 items-center justify-center gap-1.5 rounded-control border font-semibold whitespace-nowrap transition-colors disabled:opacity-50',
        small ? 'h-[26px] px-2 text-xs' : 'h-[30px] px-3 text-sm',
        look === 'main' &&
          'border-persimmon bg-persimmon text-white hover:bg-persimmon-deep hover:border-persimmon-deep',
        look === 'plain' && 'border-line-strong bg-raised hover:bg-paper',
        look === 'quiet' && 'border-transparent hover:bg-sunk',
        look === 'danger' && 'border-line-strong bg-raised text-persimmon-deep hover:bg-persimmon-wash',
        className,
      )}
      {...rest}
    >
      {Icon && <Icon size={small ? 14 : 15} strokeWidth={2} aria-hidden />}
      {children}
    </button>
  );
}

type IconButtonProps = Omit<ButtonHTMLAttributes<HTMLButtonElement>, 'aria-label'> & {
  icon: ComponentType<LucideProps>;
  label: string;
  size?: number;
  ref?: Ref<HTMLButtonElement>;
};

/** A button that is only an icon; its label is read aloud and shown on hover. */
export function IconButton({ icon: Icon, label, size = 16, className, ...rest }: IconButtonProps) {
  return (
    <Tooltip.Root>
      <Tooltip.Trigger asChild>
        <button
          type="button"
          aria-label={label}
          className={clsx(
            'grid size-7 shrink-0 place-items-center rounded-control text-ink-soft hover:bg-sunk hover:text-ink disabled:opacity-35',
            className,
          )}
          {...rest}
        >
          <Icon size={size} aria-hidden />
        </button>
      </Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content sideOffset={5} className="z-50 rounded-md bg-ink px-2 py-1 text-xs text-raised">
          {label}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}

/** A few choices side by side, one of them on. */
export function Segmented<T extends string>({
  value,
  options,
  onChange,
  label,
}: {
  value: T;
  options: readonly (readonly [T, ReactNode])[];
  onChange(v: T): void;
  label: string;
}) {
  return (
    <ToggleGroup.Root
      type="single"
      value={value}
      aria-label={label}
      onValueChange={(v) => v && onChange(v as T)}
      className="inline-flex max-w-full flex-wrap rounded-control border border-line bg-sunk/60 p-px"
    >
      {options.map(([v, text]) => (
        <ToggleGroup.Item
          key={v}
          value={v}
          className="rounded-[7px] px-2.5 py-[3px] text-sm font-medium text-ink-soft data-[state=on]:bg-raised data-[state=on]:text-ink data-[state=on]:shadow-[0_0_0_1px_var(--color-line)]"
        >
          {text}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}

/** A labelled line of a card of compact controls. */
export function Line({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className="flex min-h-[36px] items-center gap-3">
      <span className="w-20 shrink-0 text-sm text-ink-soft">{label}</span>
      <div className="flex min-w-0 flex-1 flex-wrap items-center gap-2">{children}</div>
    </div>
  );
}

/** Words and one button where there is nothing yet. */
export function Empty({ title, words, children }: { title: string; words: string; children?: ReactNode }) {
  return (
    <div className="mx-auto mt-20 max-w-sm text-center">
      <h2 className="text-xl">{title}</h2>
      <p className="mt-1.5 mb-4 text-md text-ink-soft text-balance">{words}</p>
      {children}
    </div>
  );
}

/** Something worth a look, beside the thing it is about, with the button that mends it. */
export function Note({
  tone = 'look',
  children,
  action,
}: {
  tone?: 'look' | 'bad';
  children: ReactNode;
  action?: ReactNode;
}) {
  return (
    <div
      className={clsx(
        'flex items-center gap-3 rounded-card border px-4 py-2.5',
        tone === 'look'
          ? 'border-[#E8CE8A] bg-saffron-wash text-ink'
          : 'border-[#E9B9A4] bg-persimmon-wash text-persimmon-deep',
      )}
    >
      <div className="min-w-0 flex-1">{children}</div>
      {action}
    </div>
  );
}

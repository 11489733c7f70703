import { clsx } from 'clsx';
import type { LucideProps } from 'lucide-react';
import type { ButtonHTMLAttributes, ComponentType, Ref } from 'react';

export type ChipTone = 'plain' | 'data' | 'person' | 'empty';

type ChipProps = ButtonHTMLAttributes<HTMLButtonElement> & {
  tone?: ChipTone;
  icon?: ComponentType<LucideProps> | undefined;
  ref?: Ref<HTMLButtonElement>;
};

/** A place in a sentence that can be filled in. */
export function Chip({ tone = 'plain', icon: Icon, className, children, ...rest }: ChipProps) {
  return (
    <button
      type="button"
      data-chip={tone}
      className={clsx(
        'mx-px inline-flex h-[23px] max-w-64 items-center gap-1.5 rounded-[7px] border px-[7px] align-middle text-[13px] leading-none font-semibold whitespace-nowrap transition-colors',
        tone === 'plain' && 'border-line-strong bg-raised text-ink hover:bg-paper',
        tone === 'data' && 'border-transparent bg-kelp-wash text-kelp hover:border-kelp/40',
        tone === 'person' && 'border-transparent bg-dusk-wash text-dusk hover:border-dusk/40',
        tone === 'empty' && 'border-persimmon bg-raised text-persimmon-deep hover:bg-persimmon-wash',
        className,
      )}
      {...rest}
    >
      {Icon && <Icon size={13} className="shrink-0" aria-hidden />}
      <span className="truncate py-0.5">{children}</span>
    </button>
  );
}

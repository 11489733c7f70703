import { createElement, useSyncExternalStore, type ComponentType, type SVGProps } from 'react';
import type { IconNode } from 'lucide';

interface IconProps extends SVGProps<SVGSVGElement> {
  size?: number | string;
}

/** An icon that an app may use. It is fetched when it is first drawn; until then its place is kept. */
export type AppIcon = ComponentType<IconProps>;

// One file an icon, loaded when an app uses it: `icons/bell.ts` is the icon “bell”.
const files = import.meta.glob<{ default: IconNode }>('./icons/*.ts');
const there = new Map<string, IconNode>();
const hearers = new Set<() => void>();
const made = new Map<string, AppIcon>();

/** The names of the icons an app may use, as it stores them. */
export const ICON_NAMES: readonly string[] = Object.keys(files).map((f) => f.slice('./icons/'.length, -'.ts'.length));

const hear = (hearer: () => void): (() => void) => {
  hearers.add(hearer);
  return () => hearers.delete(hearer);
};

function load(name: string): void {
  files[`./icons/${name}.ts`]!().then(
    (file) => {
      there.set(name, file.default);
      for (const h of hearers) h();
    },
    // Without a network it is tried again when it is next drawn anew.
    () => undefined,
  );
}

function make(name: string): AppIcon {
  let asked = false;
  return function NamedIcon({ size = 24, ...props }: IconProps) {
    const found = useSyncExternalStore(hear, () => there.get(name));
    if (!found && !asked) load(name);
    asked = true;
    return (
      <svg
        width={size}
        height={size}
        viewBox="0 0 24 24"
        fill="none"
        stroke="currentColor"
        strokeWidth={2}
        strokeLinecap="round"
        strokeLinejoin="round"
        {...props}
      >
        {found?.map(([tag, attributes], i) => createElement(tag, { key: i, ...attributes }))}
      </svg>
    );
  };
}

/** The icon of a name; none for a name that is no icon’s. */
export function iconOf(name: string | undefined): AppIcon | undefined {
  if (!name || !files[`./icons/${name}.ts`]) return undefined;
  let icon = made.get(name);
  if (!icon) made.set(name, (icon = make(name)));
  return icon;
}

import { createElement, useSyncExternalStore, type ComponentType, type SVGProps } from 'react';
import type { IconNode } from 'lucide';

interface IconProps extends SVGProps<SVGSVGElement> {
  size?: number | string;
}

/** An icon that an app may use. It is fetched when it is first drawn; until then its place is kept. */
export type AppIcon = ComponentType<IconProps>;

// One file an icon, loaded when an app uses it: `icons/bell.ts` is the icon “bell”. The build gives all of them one mark
// in their names, so that no table of them travels to phones.
declare const __ICON_MARK__: string;
const files = import.meta.env.PROD ? null : import.meta.glob<{ default: IconNode }>('./icons/*.ts');
const fileOf = (name: string): Promise<{ default: IconNode }> =>
  files
    ? (files[`./icons/${name}.ts`]?.() ?? Promise.reject(new Error(`There is no icon “${name}”.`)))
    : (import(/* @vite-ignore */ `./icon.${name}-${__ICON_MARK__}.js`) as Promise<{ default: IconNode }>);

const there = new Map<string, IconNode>();
const hearers = new Set<() => void>();
const made = new Map<string, AppIcon>();

const hear = (hearer: () => void): (() => void) => {
  hearers.add(hearer);
  return () => hearers.delete(hearer);
};

function load(name: string): void {
  fileOf(name).then(
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

/** Names come from documents, and become part of a file's name: nothing else than a name may. */
const CAN_BE_ICON = /^[a-z-]{2,24}$/;

/** The icon of a name, which draws nothing where there is no such icon; none for what cannot be a name. */
export function iconOf(name: string | undefined): AppIcon | undefined {
  if (!name || !CAN_BE_ICON.test(name)) return undefined;
  let icon = made.get(name);
  if (!icon) made.set(name, (icon = make(name)));
  return icon;
}

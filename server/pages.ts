import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { dressed } from '../core/app/themes.ts';
import { isLiveFrame } from '../core/app/frames.ts';
import { FONTS } from '../core/app/theme.ts';
import type { App } from '../core/app/schema.ts';
import { walkElements, walkSteps } from '../core/document/walk.ts';
import type { AnyElement, AnyStep } from '../core/document/meaning.ts';
import type { Release } from './store.ts';

const escape = (s: string): string => s.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);

/** The file of a kind, as the build names it: `kind.elements.text.view-x1y2z3.js`. */
const KIND_FILE = /^kind\.(\w+)\.([\w-]+)\.\w+-/;
/** The file of an icon: `icon.bell-x1y2z3.js`. */
const ICON_FILE = /^icon\.([\w-]+)-[\w-]{8}\.js$/;

/** Large files that are kept only for apps that use one of these: what reads codes in pictures, what makes PDFs. */
const LARGE: [file: RegExp, uses: string[]][] = [
  [/^jsQR-/, ['fields/code', 'steps/scan']],
  [/^pdf-/, ['steps/pdf']],
];

/** The fonts of an app as their files begin: "hanken-grotesk". */
function fontsOf(app: App): string[] {
  const { text, head } = dressed(app.look);
  return [...new Set([text, head])].map((id) => FONTS[id].replace(' Variable', '').toLowerCase().replace(/ /g, '-'));
}

/** The pages of released apps, made of what the build left in `dist`. */
export class Pages {
  private readonly shell: string;
  private readonly sw: string;
  /** Files of the player by the files that name them, as far as they can be reached from its page. */
  private readonly named = new Map<string, string[]>();
  /** Files of icons, which no file names: the player puts their names together. */
  private readonly icons: string[];

  constructor(private readonly dist: string) {
    this.shell = readFileSync(join(dist, 'player.html'), 'utf8');
    this.sw = readFileSync(join(dist, 'sw.js'), 'utf8');
    const all = readdirSync(join(dist, 'assets'));
    this.icons = all.filter((f) => ICON_FILE.test(f));
    const follow = (name: string, text: string): void => {
      const inside = all.filter((f) => f !== name && text.includes(f));
      this.named.set(name, inside);
      for (const f of inside)
        if (!this.named.has(f)) follow(f, /\.(js|css)$/.test(f) ? readFileSync(join(dist, 'assets', f), 'utf8') : '');
    };
    follow('', this.shell);
  }

  /** The files that an app needs without a network: the player's own, and those of the kinds it uses. */
  files(app: App): string[] {
    const used = kindsIn(app);
    const icons = iconsIn(app);
    const fonts = fontsOf(app);
    const files = new Set(this.icons.filter((f) => icons.has(ICON_FILE.exec(f)![1]!)));
    const take = (name: string): void => {
      for (const f of this.named.get(name) ?? []) {
        const kind = KIND_FILE.exec(f);
        if (files.has(f) || (kind && !used.has(`${kind[1]}/${kind[2]}`))) continue;
        if (LARGE.some(([file, uses]) => file.test(f) && !uses.some((u) => used.has(u)))) continue;
        if (/\.woff2?$/.test(f) && !fonts.some((font) => f.startsWith(`${font}-latin-wght`))) continue;
        files.add(f);
        take(f);
      }
    };
    take('');
    return [...files].sort();
  }

  player(name: string, release: Release): string {
    const palette = dressed(release.app.look).light;
    const head = [
      `<title>${escape(release.app.name)}</title>`,
      `<meta name="theme-color" content="${palette.ground}">`,
      `<link rel="manifest" href="/a/${name}/manifest.webmanifest">`,
      ...(release.icons
        ? [
            `<link rel="icon" href="/a/${name}/icon-192.png">`,
            `<link rel="apple-touch-icon" href="/a/${name}/icon-192.png">`,
          ]
        : ['<link rel="icon" href="/kite.svg">']),
    ].join('');
    return this.shell.replace(/<title>.*?<\/title>/, () => head);
  }

  manifest(name: string, release: Release): object {
    const palette = dressed(release.app.look).light;
    return {
      id: `/a/${name}/`,
      name: release.app.name,
      short_name: release.app.name.slice(0, 12),
      start_url: `/a/${name}/`,
      scope: `/a/${name}/`,
      display: 'standalone',
      background_color: palette.ground,
      theme_color: palette.ground,
      icons: !release.icons
        ? [{ src: '/kite.svg', sizes: 'any', type: 'image/svg+xml' }]
        : [192, 512].map((size) => ({
            src: `/a/${name}/icon-${size}.png`,
            sizes: `${size}x${size}`,
            type: 'image/png',
            purpose: 'any maskable',
          })),
    };
  }

  /** The service worker of an app, with the list of what it keeps. */
  worker(app: App): string {
    const shell = this.files(app).map((f) => `/assets/${f}`);
    return this.sw
      .replace(/["'`]__SHELL__["'`]/, () => JSON.stringify(shell))
      .replace('__VERSION__', String(hashOf(shell.join())));
  }
}

/** The kinds that an app uses, as folders: `elements/text`. */
function kindsIn(app: App): Set<string> {
  const used = new Set<string>();
  const folder = (kind: string): string => kind.replace(/ /g, '-');
  for (const s of [...app.screens, ...(app.parts ?? [])])
    walkElements<AnyElement>([s.root], (e) => void used.add(`elements/${folder(e.kind)}`));
  // What a type of field is filled in with; a link by that of links.
  for (const f of [...app.tables.flatMap((t) => t.fields), ...(app.variables ?? [])]) used.add(`fields/${f.type}`);
  if (isLiveFrame(app)) for (const kind of ['box', 'text']) used.add(`elements/${kind}`);
  for (const r of app.routines) {
    walkSteps<AnyStep>(r.steps, (s) => void used.add(`steps/${folder(s.do)}`));
    for (const t of r.starts ?? []) used.add(`triggers/${folder(t.on)}`);
  }
  return used;
}

/** Icons that the player itself and its views draw, whatever the app. */
export const PLAYER_ICONS = [
  'chevron-left',
  'chevron-right',
  'chevron-down',
  'grip',
  'search',
  'image',
  'menu',
  'close',
  'more',
  'plus',
  'minus',
];

/**
 * The names of icons that an app may come to draw. Any text of the document counts that could be one, and any text
 * written within a formula: `if done then "check" else "clock"`.
 */
export function iconsIn(app: App): Set<string> {
  const names = new Set(PLAYER_ICONS);
  const look = (value: unknown): void => {
    if (typeof value === 'string') {
      if (/^[a-z-]{2,24}$/.test(value)) names.add(value);
      for (const [, written] of value.matchAll(/"([a-z-]{2,24})"/g)) names.add(written!);
    } else if (value && typeof value === 'object') for (const inner of Object.values(value)) look(inner);
  };
  look(app);
  return names;
}

/** A short number that changes with the text (FNV-1a). */
function hashOf(text: string): number {
  let h = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) h = Math.imul(h ^ text.charCodeAt(i), 0x01000193) >>> 0;
  return h;
}

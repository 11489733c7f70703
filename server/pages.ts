import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ReleaseFacts } from './facts.ts';
import type { Release } from './store.ts';

const escape = (s: string): string => s.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);

/** The file of a kind, as the build names it: `kind.elements.text.view-x1y2z3.js`. */
const KIND_FILE = /^kind\.(\w+)\.([\w-]+)\.\w+-/;
/** The end of what may be the name of a file of the build. */
const ENDING = /\.(?:js|css|woff2?)\b/g;
/** No name of a file of the build is longer. */
const LONGEST = 120;
/** The file of an icon: `icon.bell-x1y2z3.js`. */
const ICON_FILE = /^icon\.([\w-]+)-[\w-]{8}\.js$/;

/** Large files that are kept only for apps that use one of these: what reads codes in pictures, what makes PDFs. */
const LARGE: [file: RegExp, uses: string[]][] = [
  [/^jsQR-/, ['fields/code', 'steps/scan']],
  [/^pdf-/, ['steps/pdf']],
];

/** So many service workers are kept as text. */
const MOST_WORKERS = 200;

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
    const all = new Set(readdirSync(join(dist, 'assets')));
    this.icons = [...all].filter((f) => ICON_FILE.test(f));
    const follow = (name: string, text: string): void => {
      const inside = [...namesIn(text)].filter((f) => f !== name && all.has(f));
      this.named.set(name, inside);
      for (const f of inside)
        if (!this.named.has(f)) follow(f, /\.(js|css)$/.test(f) ? readFileSync(join(dist, 'assets', f), 'utf8') : '');
    };
    follow('', this.shell);
  }

  /** The files that an app needs without a network: the player's own, and those of the kinds it uses. */
  files(app: ReleaseFacts): string[] {
    const used = new Set(app.kinds);
    const icons = new Set(app.icons);
    const { fonts } = app;
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

  /** The page of a released app; `origin` is where it was asked for, since a picture for previews needs its whole address. */
  player(name: string, release: Release, origin: string): string {
    const about =
      release.facts.about ?? `${release.facts.name}: opens on a phone or a computer, and works without a network.`;
    const head = [
      `<title>${escape(release.facts.name)}</title>`,
      `<meta name="theme-color" content="${escape(release.facts.ground)}">`,
      // What a link to the app shows where it is sent on (Open Graph).
      `<meta name="description" content="${escape(about)}">`,
      `<meta property="og:title" content="${escape(release.facts.name)}">`,
      `<meta property="og:description" content="${escape(about)}">`,
      `<meta property="og:type" content="website">`,
      ...(release.icons ? [`<meta property="og:image" content="${escape(origin)}/a/${name}/icon-512.png">`] : []),
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
    const { name: called, about, ground } = release.facts;
    return {
      id: `/a/${name}/`,
      name: called,
      short_name: called.slice(0, 12),
      ...(about && { description: about }),
      start_url: `/a/${name}/`,
      scope: `/a/${name}/`,
      display: 'standalone',
      background_color: ground,
      theme_color: ground,
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

  /** The service worker of an app, with the list of what it keeps; made once for a release. */
  worker(name: string, { facts, number, at }: Release): string {
    const of = `${number} ${at}`;
    const known = this.workers.get(name);
    if (known?.of === of) return known.text;
    const text = this.makeWorker(facts);
    this.workers.set(name, { of, text });
    if (this.workers.size > MOST_WORKERS) this.workers.delete(this.workers.keys().next().value!);
    return text;
  }
  private readonly workers = new Map<string, { of: string; text: string }>();

  private makeWorker(app: ReleaseFacts): string {
    const shell = this.files(app).map((f) => `/assets/${f}`);
    return this.sw
      .replace(/["'`]__SHELL__["'`]/, () => JSON.stringify(shell))
      .replace('__VERSION__', String(hashOf(shell.join())));
  }
}

/** What may be names of files in a text. They are sought by their ends: at each letter, it would take seconds. */
function namesIn(text: string): Set<string> {
  const found = new Set<string>();
  for (const { 0: ending, index } of text.matchAll(ENDING)) {
    const to = index + ending.length;
    const name = /[\w.-]+$/.exec(text.slice(Math.max(0, to - LONGEST), to));
    if (name) found.add(name[0]);
  }
  return found;
}

/** A short number that changes with the text (FNV-1a). */
function hashOf(text: string): number {
  let h = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) h = Math.imul(h ^ text.charCodeAt(i), 0x01000193) >>> 0;
  return h;
}

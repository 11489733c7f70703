import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { themeOf } from '../core/app/themes.ts';
import type { Release } from './store.ts';

interface Chunk {
  file: string;
  css?: string[];
  imports?: string[];
  dynamicImports?: string[];
  assets?: string[];
}

const escape = (s: string): string => s.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);

/** The pages of released apps, made of what the build left in `dist`. */
export class Pages {
  private readonly shell: string;
  private readonly sw: string;

  constructor(dist: string) {
    this.shell = readFileSync(join(dist, 'player.html'), 'utf8');
    const manifest = JSON.parse(readFileSync(join(dist, '.vite/manifest.json'), 'utf8')) as Record<string, Chunk>;
    const files = new Set<string>();
    const walk = (key: string): void => {
      const chunk = manifest[key];
      if (!chunk || files.has(chunk.file)) return;
      for (const f of [chunk.file, ...(chunk.css ?? []), ...(chunk.assets ?? [])]) files.add(f);
      for (const i of [...(chunk.imports ?? []), ...(chunk.dynamicImports ?? [])]) walk(i);
    };
    walk('player.html');
    // The records worker is built beside the page and named in its script only.
    for (const m of this.allScripts(dist, files).matchAll(/assets\/([\w.-]*worker[\w.-]*\.js)/g))
      files.add(`assets/${m[1]}`);
    const shell = [...files].filter((f) => !/\.woff2?$/.test(f) || /latin-wght/.test(f)).map((f) => `/${f}`);
    this.sw = readFileSync(join(dist, 'sw.js'), 'utf8')
      .replace(/["'`]__SHELL__["'`]/, () => JSON.stringify(shell))
      .replace('__VERSION__', String(hashOf(shell.join())));
  }

  private allScripts(dist: string, files: Set<string>): string {
    return [...files]
      .filter((f) => f.endsWith('.js'))
      .map((f) => readFileSync(join(dist, f), 'utf8'))
      .join('\n');
  }

  player(name: string, release: Release): string {
    const palette = themeOf(release.app.look.theme).light;
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
    const palette = themeOf(release.app.look.theme).light;
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

  worker(): string {
    return this.sw;
  }
}

/** A short number that changes with the text (FNV-1a). */
function hashOf(text: string): number {
  let h = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) h = Math.imul(h ^ text.charCodeAt(i), 0x01000193) >>> 0;
  return h;
}

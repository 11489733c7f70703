import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { defineConfig } from 'vitest/config';
import react from '@vitejs/plugin-react';
import tailwindcss from '@tailwindcss/vite';

// A few letters of a hash tell one build's file from another's. They cannot be packed, and stand in many first files.
/** Kinds are files of their own, and named so that the server can tell which of them an app uses. */
const chunkFileNames = ({ facadeModuleId }: { facadeModuleId?: string | null }): string => {
  const kind = /\/kinds\/(\w+)\/([\w-]+)\/(\w+)\.tsx?$/.exec(facadeModuleId ?? '');
  return kind ? `assets/kind.${kind[1]}.${kind[2]}.${kind[3]}-[hash:7].js` : 'assets/[name]-[hash:7].js';
};

/**
 * What every app's worker needs and late kinds use too stands in one file. Left alone, the bundler cuts it into as many
 * as there are ways to share it, which together are larger.
 */
const GROUND =
  /\/core\/(formula\/(values|temporal|types|number|patterns|keys)|document\/(ids|queries|meaning|walk|names)|records\/(format|cells)|fields\/(numbers|kept-address|kind))\.ts$|\/kinds\/fields\/([\w-]+\/definition|index)\.ts$|\/kinds\/elements\/((box|text|button|list)\/definition|of-records)\.ts$|\/core\/screens\/(element|tapped)\.ts$/;

/**
 * Icons are files of their own too. One mark in all their names, made of what is in them, lets the player put a name
 * together from the icon’s: a table of every icon’s file would be larger than the icons that a screen shows.
 */
const ICONS = readdirSync('player/icons').map((f) => f.slice(0, -'.ts'.length));
const ICON_MARK = ICONS.reduce(
  (hash, name) => hash.update(name).update(readFileSync(`player/icons/${name}.ts`)),
  createHash('sha256').update(readFileSync('node_modules/lucide/package.json')),
)
  .digest('hex')
  .slice(0, 8);

/** A package of the reader of rich words decodes entities by the page's DOM, which workers do not have. */
const ENTITIES = 'decode-named-character-reference';
const withoutDom = {
  name: 'without-dom',
  enforce: 'pre' as const,
  resolveId: (id: string) => (id === ENTITIES ? resolve(`node_modules/${ENTITIES}/index.js`) : null),
};

export default defineConfig({
  define: { __ICON_MARK__: JSON.stringify(ICON_MARK) },
  plugins: [react(), tailwindcss(), { ...withoutDom, apply: 'serve' as const }],
  worker: {
    format: 'es',
    plugins: () => [withoutDom],
    rollupOptions: {
      output: { chunkFileNames, codeSplitting: { groups: [{ name: 'ground', test: GROUND }] } },
      // The worker of a rehearsal has from the beginning what phones fetch late (core/world/all-here.ts).
      checks: { ineffectiveDynamicImport: false },
    },
  },
  build: {
    outDir: 'dist',
    manifest: true,
    // Nothing is written into pages as data: the content policy allows fonts and scripts from files only.
    assetsInlineLimit: 0,
    // Every late file would be named twice in the first ones; scripts name what they need by themselves.
    modulePreload: { polyfill: false, resolveDependencies: (_file, names) => names.filter((n) => n.endsWith('.css')) },
    target: 'es2022',
    chunkSizeWarningLimit: 2500,
    rollupOptions: {
      // Icons are fetched by name for what they give.
      preserveEntrySignatures: 'exports-only',
      input: {
        studio: 'index.html',
        player: 'player.html',
        sw: 'player/sw.ts',
        ...Object.fromEntries(ICONS.map((name) => [`icon.${name}`, `player/icons/${name}.ts`])),
      },
      // The service worker is served under a fixed name by the server, which fills in what to keep.
      output: {
        chunkFileNames,
        assetFileNames: 'assets/[name]-[hash:6][extname]',
        entryFileNames: ({ name }) =>
          name === 'sw' ? 'sw.js' : `assets/[name]-${name.startsWith('icon.') ? ICON_MARK : '[hash:7]'}.js`,
      },
    },
  },
  test: {
    testTimeout: 60_000,
    maxWorkers: 2,
    setupFiles: ['kinds/given/all.ts'],
    projects: [
      {
        // Every kind is loaded once for a worker, not once for a file: that would be most of the time.
        extends: true,
        test: {
          name: 'core and host',
          include: ['{core,kinds,server,cli,demo}/**/*.test.ts'],
          exclude: ['server/power-cut.test.ts'],
          isolate: false,
        },
      },
      {
        // Each file has modules and a page of its own: these draw, or replace modules.
        extends: true,
        test: { name: 'interface', include: ['{studio,player}/**/*.test.{ts,tsx}', 'server/power-cut.test.ts'] },
      },
    ],
  },
});

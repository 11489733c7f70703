/** Built code for commands: bundled once from its sources, and again when one of them has changed. */
import { existsSync, mkdirSync, readFileSync, renameSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { root } from './setup.mjs';

/** The age of each source, by which one is known to be the same. */
const agesOf = (files) =>
  Object.fromEntries(files.map((f) => [f, existsSync(join(root, f)) ? statSync(join(root, f)).mtimeMs : 0]));

/** The bundle of an entry file such as `cli/kite.ts`, made when it is missing or older than its sources. */
export async function built(entry) {
  const name = entry.replace(/\W+/g, '-');
  // Beside the packages, where it finds those it does not have in it.
  const file = join(root, 'node_modules/.cache/mellow-kite', `${name}.mjs`);
  const list = `${file}.json`;
  if (existsSync(file) && existsSync(list)) {
    const ages = JSON.parse(readFileSync(list, 'utf8'));
    const now = agesOf(Object.keys(ages));
    if (Object.keys(ages).every((f) => ages[f] === now[f])) return file;
  }
  const { build } = await import('esbuild');
  const made = await build({
    absWorkingDir: root,
    entryPoints: [entry],
    bundle: true,
    write: false,
    metafile: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    // Large, and wanted only where a workbook is written.
    external: ['exceljs'],
    banner: {
      js: `import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);`,
    },
    logLevel: 'error',
  });
  mkdirSync(dirname(file), { recursive: true });
  // Two commands may build at once: each file is put in place whole.
  const put = (path, content) => {
    const part = `${path}.${process.pid}.part`;
    writeFileSync(part, content);
    renameSync(part, path);
  };
  put(file, made.outputFiles[0].contents);
  put(list, JSON.stringify(agesOf([...Object.keys(made.metafile.inputs), 'package-lock.json', 'scripts/built.mjs'])));
  return file;
}

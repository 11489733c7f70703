/** Keeps the folders' arrows pointing one way, and core free of the DOM, React and Node. */
import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));
/** Which folders a folder may use besides itself. Tests may use test tools too. */
const MAY_USE: Record<string, string[]> = {
  core: [],
  player: ['core'],
  studio: ['player', 'core', 'demo'],
  server: ['core'],
  demo: ['core'],
  cli: ['core'],
  e2e: ['server'],
  bench: ['core', 'server', 'player', 'demo', 'e2e'],
  scripts: ['core', 'e2e', 'server'],
};
/** Packages that core may use outside tests; all of them run anywhere. */
const CORE_PACKAGES = new Set(['zod', 'papaparse', 'exceljs', 'fflate']);
const wrong: string[] = [];

function files(folder: string): string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((d) =>
    d.isDirectory() ? files(join(folder, d.name)) : /\.tsx?$/.test(d.name) ? [join(folder, d.name)] : [],
  );
}

for (const [folder, allowed] of Object.entries(MAY_USE)) {
  for (const file of files(join(root, folder))) {
    const test = /\.test\.tsx?$/.test(file);
    const text = readFileSync(file, 'utf8');
    const name = relative(root, file);
    for (const m of text.matchAll(/(?:from\s+|import\s*\(\s*|import\s+)'([^']+)'/g)) {
      const target = m[1]!;
      if (target.startsWith('.')) {
        const to = relative(root, resolve(dirname(file), target)).split('/')[0]!;
        if (to !== folder && !allowed.includes(to) && !test)
          wrong.push(`${name} uses ${to}/, which ${folder}/ may not.`);
      } else if (folder === 'core' && !test) {
        const pack = target.startsWith('@') ? target.split('/').slice(0, 2).join('/') : target.split('/')[0]!;
        if (!CORE_PACKAGES.has(pack)) wrong.push(`${name} uses the package ${pack}; core/ may not.`);
      }
    }
    if (
      folder === 'core' &&
      !test &&
      /\b(document|window|localStorage|navigator|process)\.\w/.test(
        text.replace(/'[^'\n]*'|\/\*[\s\S]*?\*\/|\/\/.*/g, ''),
      )
    )
      wrong.push(`${name} uses the DOM or Node.`);
  }
}
if (wrong.length) {
  console.error(wrong.join('\n'));
  process.exit(1);
}
console.log('The arrows point one way.');

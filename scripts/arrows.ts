/**
 * Keeps imports pointing one way: layers inside the core, roles of the files in a kind's folder, folders above them,
 * no circles anywhere, no file too long to hold in the head, and a core free of the DOM, React and Node. Imports of types
 * count like any other, but for one: core takes types from kinds, and is given the kinds themselves where a program begins.
 */
import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));
const TOP = ['core', 'kinds', 'player', 'studio', 'server', 'demo', 'cli', 'e2e', 'bench', 'trial', 'scripts'];

/** The layers of the core from the bottom up. A file may use its own layer and those below it. */
const LAYERS: [name: string, files: RegExp][] = [
  ['document', /^core\/document\//],
  ['formula', /^core\/formula\//],
  ['words', /^core\/words\//],
  ['mail', /^core\/mail\//],
  ['fields', /^core\/fields\//],
  ['field types', /^kinds\/fields\//],
  ['tables', /^core\/tables\//],
  ['records', /^core\/records\//],
  ['services', /^core\/services\//],
  ['screens', /^core\/screens\//],
  ['routines', /^core\/routines\//],
  ['elements, steps and triggers', /^kinds\/(elements|steps|triggers)\//],
  ['app', /^(core\/app|kinds\/themes)\//],
  ['preflight', /^(core\/preflight|kinds\/notes)\//],
  ['access', /^core\/access\//],
  ['host', /^core\/host\//],
  ['released', /^core\/released\//],
  ['session', /^core\/session\//],
  ['runs', /^core\/runs\//],
  ['phone', /^core\/phone\//],
  ['world', /^core\/world\//],
  ['rehearsal', /^core\/rehearsal\//],
  ['scenes', /^core\/scenes\//],
  ['what programs are given', /^kinds\/given\//],
];
/** Beside the layers up to the host: they may use all of these, and one another from left to right. */
const ABOVE_THEM = LAYERS.findIndex(([name]) => name === 'released');
const BESIDE = [/^(core|kinds)\/formats\//, /^core\/mirror\//];

/** What a file in a kind's folder is, by its name. */
const VIEW = /^kinds\/.*\/(view|input)(-\w+)?\.tsx?$/;
const DESK = /^kinds\/.*\/(desk|sentence|cell|editor|settings)\.tsx$|^kinds\/.*\/(thumbnail|icon)\.ts$/;

type Role = 'core' | 'player' | 'studio' | 'server' | 'demo' | 'cli' | 'e2e' | 'bench' | 'trial' | 'scripts';
/** Which roles a role may use besides its own. */
const MAY_USE: Record<Role, Role[]> = {
  core: [],
  player: ['core'],
  studio: ['player', 'core', 'demo'],
  server: ['core'],
  demo: ['core'],
  cli: ['core'],
  e2e: ['server', 'core', 'demo'],
  bench: ['core', 'server', 'player', 'demo', 'e2e', 'trial'],
  trial: ['core', 'e2e'],
  scripts: ['core', 'e2e', 'server'],
};
/** Packages that core may use outside tests; all of them run anywhere. */
const CORE_PACKAGES = new Set([
  'saxes',
  'fast-check',
  'postal-mime',
  'html-to-text',
  'zod',
  'papaparse',
  'exceljs',
  'fflate',
  '@noble/hashes',
  'tinyqueue',
  're2js',
  'ics',
  'pdfmake',
  'fontkit',
  'mdast-util-from-markdown',
  'qrcode',
  'ipaddr.js',
  'json-p3',
  'yaml',
  'ical.js',
  'jose',
  '@scalar/openapi-parser',
]);

const roleOf = (file: string): Role =>
  VIEW.test(file)
    ? 'player'
    : DESK.test(file)
      ? 'studio'
      : file.startsWith('kinds/')
        ? 'core'
        : (file.split('/')[0] as Role);
const isTest = (file: string): boolean => /\.test\.tsx?$|\/(fixture|[a-z-]+\.fixture)\.ts$/.test(file);

function filesIn(folder: string): string[] {
  return readdirSync(join(root, folder), { withFileTypes: true }).flatMap((d) => {
    const name = `${folder}/${d.name}`;
    return d.isDirectory() ? filesIn(name) : /\.tsx?$/.test(d.name) ? [name] : [];
  });
}

/** A file that can be held in the head. */
const MOST_LINES = 400;

const wrong: string[] = [];
const imports = new Map<string, string[]>();
for (const file of TOP.flatMap(filesIn)) {
  const text = readFileSync(join(root, file), 'utf8');
  const own: string[] = [];
  for (const m of text.matchAll(/(?:from\s+|import\s*\(\s*|import\s+)'([^']+)'/g)) {
    const target = m[1]!;
    if (target.startsWith('.')) own.push(relative(root, resolve(root, dirname(file), target)));
    else checkPackage(file, target);
  }
  imports.set(file, own);
  for (const to of own) checkArrow(file, to);
  checkCore(file, text);
  checkKinds(file, text);
  const lines = text.split('\n').length - 1;
  if (lines > MOST_LINES && !isTest(file) && !/^(e2e|bench|trial)\//.test(file))
    wrong.push(`${file} has ${lines} lines; divide what has more than ${MOST_LINES}.`);
}

function checkPackage(file: string, target: string): void {
  if (roleOf(file) !== 'core' || isTest(file)) return;
  const pack = target.startsWith('@') ? target.split('/').slice(0, 2).join('/') : target.split('/')[0]!;
  if (!CORE_PACKAGES.has(pack)) wrong.push(`${file} uses the package ${pack}; the core may not.`);
}

function checkArrow(file: string, to: string): void {
  if (isTest(file) || (!imports.has(to) && !/\.tsx?$/.test(to))) return;
  const [from, target] = [roleOf(file), roleOf(to)];
  if (from !== target && !MAY_USE[from].includes(target)) wrong.push(`${file} (${from}) uses ${to} (${target}).`);
  if (from !== 'core' || target !== 'core') return;
  const layer = (f: string): number => LAYERS.findIndex(([, files]) => files.test(f));
  const beside = (f: string): number => BESIDE.findIndex((files) => files.test(f));
  if (isTest(to)) wrong.push(`${file} uses ${to}, which is for tests.`);
  else if (beside(file) >= 0) {
    if (beside(to) > beside(file)) wrong.push(`${file} uses ${to}, which stands beside it.`);
  } else if (beside(to) >= 0 && layer(file) < ABOVE_THEM)
    wrong.push(`${file} uses ${to}, which stands beside the layers.`);
  else if (layer(file) < 0) wrong.push(`${file} is in no layer of the core.`);
  else if (layer(to) > layer(file))
    wrong.push(`${file} (${LAYERS[layer(file)]![0]}) uses ${to} (${LAYERS[layer(to)]![0]}), a layer above it.`);
}

function checkCore(file: string, text: string): void {
  if (roleOf(file) !== 'core' || isTest(file)) return;
  const code = text.replace(/'[^'\n]*'|`[^`]*`|\/\*[\s\S]*?\*\/|\/\/.*/g, '');
  if (/\b(document|window|localStorage|navigator|process)\.\w/.test(code.replace(/[.)\]]\s*document\./g, '')))
    wrong.push(`${file} uses the DOM or Node.`);
}

/** Core is given kinds where a program begins; of its own it takes their types alone. */
function checkKinds(file: string, text: string): void {
  if (!file.startsWith('core/') || isTest(file)) return;
  for (const m of text.matchAll(/(?:import|export)\s+(type\s)?[^;]*?'((?:\.\.\/)+kinds\/[^']+)'/g))
    if (!m[1]) wrong.push(`${file} imports ${m[2]}; it may import types from there, and is given the rest.`);
}

/** Circles, found as strongly connected components (Tarjan, 1972). */
function circles(): string[][] {
  const found: string[][] = [];
  const index = new Map<string, number>();
  const low = new Map<string, number>();
  const stack: string[] = [];
  const visit = (file: string): void => {
    index.set(file, index.size);
    low.set(file, index.get(file)!);
    stack.push(file);
    for (const to of imports.get(file) ?? []) {
      if (!imports.has(to)) continue;
      if (!index.has(to)) {
        visit(to);
        low.set(file, Math.min(low.get(file)!, low.get(to)!));
      } else if (stack.includes(to)) low.set(file, Math.min(low.get(file)!, index.get(to)!));
    }
    if (low.get(file) !== index.get(file)) return;
    const circle = stack.splice(stack.indexOf(file));
    if (circle.length > 1) found.push(circle);
  };
  for (const file of imports.keys()) if (!index.has(file)) visit(file);
  return found;
}
for (const circle of circles()) wrong.push(`These import one another in a circle: ${circle.join(', ')}.`);

if (wrong.length) {
  console.error(wrong.join('\n'));
  process.exit(1);
}
console.log(`The arrows of ${imports.size} files point one way, without a circle.`);

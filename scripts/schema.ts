/** Writes the JSON Schema of the app document to docs/, or checks that it is current. */
import '../kinds/given/all.ts';
import { readFileSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { appJsonSchema } from '../core/app/document.ts';

const path = fileURLToPath(new URL('../docs/app.schema.json', import.meta.url));
const text = `${JSON.stringify(appJsonSchema(), null, 2)}\n`;
if (process.argv.includes('--check')) {
  if (readFileSync(path, 'utf8') !== text) {
    console.error('docs/app.schema.json is not current. Run: npm run docs:schema');
    process.exit(1);
  }
  console.log('docs/app.schema.json is current.');
} else writeFileSync(path, text);

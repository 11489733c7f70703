/** Gives core every kind there is. Programs begin with it; those on phones with what their app uses. */
import '../../core/formula/rare-functions.ts';
import './fields.ts';
import './themes.ts';
import { fieldGuesses } from '../../core/fields/guesses.ts';
import { fieldWords } from '../../core/fields/words.ts';
import { giveFormats } from '../../core/formats/formats.ts';
import { giveNotes } from '../../core/preflight/preflight.ts';
import { stepKinds, triggerKinds } from '../../core/routines/kinds.ts';
import { elementKinds } from '../../core/screens/kinds.ts';
import { ELEMENTS } from '../elements/index.ts';
import { GUESSES } from '../fields/guesses.ts';
import { FIELD_WORDS } from '../fields/search-words.ts';
import { FORMATS } from '../formats/index.ts';
import { NOTES } from '../notes/index.ts';
import { STEPS } from '../steps/index.ts';
import { TRIGGERS } from '../triggers/index.ts';

for (const d of ELEMENTS) elementKinds.set(d.kind, d);
for (const d of STEPS) stepKinds.set(d.do, d);
for (const d of TRIGGERS) triggerKinds.set(d.on, d);
for (const [type, guess] of Object.entries(GUESSES)) fieldGuesses.set(type, guess);
for (const [type, words] of Object.entries(FIELD_WORDS)) fieldWords.set(type, words);
giveNotes(NOTES);
giveFormats(FORMATS);

/** Makes typed texts readable for all types of field, by being imported. */
import { readBy } from './reader.ts';
import * as texts from './read-text.ts';

readBy(texts);

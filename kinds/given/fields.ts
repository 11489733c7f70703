import { giveFields } from '../../core/fields/kinds.ts';
import { FIELDS } from '../fields/index.ts';

giveFields(FIELDS);

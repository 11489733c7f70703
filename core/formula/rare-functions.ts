import { addFunctions } from './builtins/index.ts';
import { RANGE_FUNCTIONS } from './builtins/ranges.ts';
import { RARE_FUNCTIONS } from './builtins/rare.ts';
import { instanceOf } from './instance-of.ts';
import { late } from './late.ts';
import { nearest } from './suggest.ts';

// Taken into use by being loaded: few apps compare ranges, ask for types or take contexts apart, and the others need not have it.
addFunctions([...RANGE_FUNCTIONS, ...RARE_FUNCTIONS]);
late.instanceOf = instanceOf;
late.nearest = nearest;

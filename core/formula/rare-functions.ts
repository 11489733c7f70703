import { addFunctions } from './builtins/index.ts';
import { LIST_PLACE_FUNCTIONS } from './builtins/list-places.ts';
import { RANGE_FUNCTIONS } from './builtins/ranges.ts';
import { RARE_FUNCTIONS } from './builtins/rare.ts';
import { WORK_FUNCTIONS } from './builtins/work.ts';
import { instanceOf } from './instance-of.ts';
import { late } from './late.ts';
import { workOf } from './work-time.ts';
import { runtimeOf, WORLD } from './reads.ts';
import type { Frame } from './scope.ts';
import type { Value } from './values.ts';
import { nearest } from './suggest.ts';

// Taken into use by being loaded: few apps compare ranges, ask for types or take lists and contexts apart, and the others need not have it.
addFunctions([...RANGE_FUNCTIONS, ...RARE_FUNCTIONS, ...LIST_PLACE_FUNCTIONS, ...WORK_FUNCTIONS]);
late.instanceOf = instanceOf;
late.workOf = workOf;
// Worked out anew whenever the app says anew when work is done: then that is another object.
const read = (f: Frame): Value => (runtimeOf(f).work?.() ?? null) as unknown as Value;
for (const { name } of WORK_FUNCTIONS) WORLD[name] = { id: 'work', few: true, read };
late.nearest = nearest;

import { GivenKinds } from '../document/given.ts';
import type { AnyElementDefinition } from './element.ts';

/** Every kind of element, in the order they are offered. A phone has none here: it fetches those its app uses. */
export const elementKinds = new GivenKinds<AnyElementDefinition>('kinds of element');

import { box } from './box/definition.ts';
import { button } from './button/definition.ts';
import { divider } from './divider/definition.ts';
import { form } from './form/definition.ts';
import { input } from './input/definition.ts';
import { list } from './list/definition.ts';
import { picture } from './picture/definition.ts';
import { reading } from './reading/definition.ts';
import { text } from './text/definition.ts';
import type { ElementKinds } from '../../core/screens/element.ts';

/** Every kind of element, in the order they are offered. One line a kind. */
export const ELEMENTS = [text, picture, button, reading, divider, box, list, form, input] as const;

export const elementKinds: ElementKinds = new Map(ELEMENTS.map((d) => [d.kind, d]));

import { harbour } from './harbour.ts';
import { heather } from './heather.ts';
import { slate } from './slate.ts';
import { straw } from './straw.ts';
import type { Theme } from '../../core/app/theme.ts';

/** Every theme, in the order they are offered. One line a theme. */
export const THEMES: readonly Theme[] = [straw, harbour, heather, slate];

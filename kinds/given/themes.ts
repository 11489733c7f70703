import { giveThemes } from '../../core/app/themes.ts';
import { THEMES } from '../themes/index.ts';

giveThemes(THEMES);

/** Works out how an app looks, by themes that are given. */
export { dressed } from '../../core/app/themes.ts';

import { badge } from './badge/definition.ts';
import { board } from './board/definition.ts';
import { calendar } from './calendar/definition.ts';
import { table } from './table/definition.ts';
import { search } from './search/definition.ts';
import { box } from './box/definition.ts';
import { button } from './button/definition.ts';
import { chart } from './chart/definition.ts';
import { code } from './code/definition.ts';
import { countdown } from './countdown/definition.ts';
import { divider } from './divider/definition.ts';
import { fold } from './fold/definition.ts';
import { sprite } from './sprite/definition.ts';
import { form } from './form/definition.ts';
import { icon } from './icon/definition.ts';
import { input } from './input/definition.ts';
import { list } from './list/definition.ts';
import { page } from './page/definition.ts';
import { part } from './part/definition.ts';
import { picture } from './picture/definition.ts';
import { plan } from './plan/definition.ts';
import { playfield } from './playfield/definition.ts';
import { player } from './player/definition.ts';
import { progress } from './progress/definition.ts';
import { reading } from './reading/definition.ts';
import { rich } from './rich/definition.ts';
import { slides } from './slides/definition.ts';
import { space } from './space/definition.ts';
import { tabs } from './tabs/definition.ts';
import { text } from './text/definition.ts';

/** Every kind of element, in the order they are offered. One line a kind. */
export const ELEMENTS = [
  text,
  rich,
  picture,
  icon,
  badge,
  button,
  reading,
  progress,
  chart,
  countdown,
  page,
  code,
  player,
  divider,
  space,
  box,
  slides,
  tabs,
  fold,
  list,
  table,
  board,
  calendar,
  plan,
  search,
  playfield,
  sprite,
  form,
  input,
  part,
] as const;

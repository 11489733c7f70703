import { appStarted } from './app-started/definition.ts';
import { byRoutine } from './routine/definition.ts';
import { clock } from './clock/definition.ts';
import { dateReached } from './date-reached/definition.ts';
import { fieldChanged } from './field-changed/definition.ts';
import { form } from './form/definition.ts';
import { hookCalled } from './hook-called/definition.ts';
import { mailCame } from './mail-came/definition.ts';
import { noticeOpened } from './notice-opened/definition.ts';
import { personCame } from './person-came/definition.ts';
import { runFailed } from './run-failed/definition.ts';
import { recordBecomes } from './record-becomes/definition.ts';
import { recordChanged } from './record-changed/definition.ts';
import { screenLeft } from './screen-left/definition.ts';
import { screenOpened } from './screen-opened/definition.ts';
import { screenReturned } from './screen-returned/definition.ts';
import { tap } from './tap/definition.ts';
import { timer } from './timer/definition.ts';
import { variableChanged } from './variable-changed/definition.ts';

/** Every kind of trigger, in the order the index shows them. One line a kind. */
export const TRIGGERS = [
  tap,
  screenOpened,
  screenReturned,
  screenLeft,
  appStarted,
  form,
  variableChanged,
  fieldChanged,
  timer,
  noticeOpened,
  recordChanged,
  recordBecomes,
  clock,
  dateReached,
  mailCame,
  hookCalled,
  personCame,
  runFailed,
  byRoutine,
] as const;

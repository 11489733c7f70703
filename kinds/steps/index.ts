import { add } from './add/definition.ts';
import { ask } from './ask/definition.ts';
import { askSomebody } from './ask-somebody/definition.ts';
import { awake } from './awake/definition.ts';
import { back } from './back/definition.ts';
import { buzz } from './buzz/definition.ts';
import { calendarFile } from './calendar-file/definition.ts';
import { caption } from './caption/definition.ts';
import { caseStep } from './case/definition.ts';
import { choice } from './choice/definition.ts';
import { choose } from './choose/definition.ts';
import { closeSheet } from './close/definition.ts';
import { contactsFile } from './contacts/definition.ts';
import { copy } from './copy/definition.ts';
import { csv } from './csv/definition.ts';
import { elementStep } from './element/definition.ts';
import { fill } from './fill/definition.ts';
import { describeStep } from './describe/definition.ts';
import { draftStep } from './draft/definition.ts';
import { each } from './each/definition.ts';
import { find } from './find/definition.ts';
import { get } from './get/definition.ts';
import { give } from './give/definition.ts';
import { hold } from './hold/definition.ts';
import { ifStep } from './if/definition.ts';
import { judgeStep } from './judge/definition.ts';
import { mail } from './mail/definition.ts';
import { menu } from './menu/definition.ts';
import { message } from './message/definition.ts';
import { notice } from './notice/definition.ts';
import { notify } from './notify/definition.ts';
import { open } from './open/definition.ts';
import { openAddress } from './address/definition.ts';
import { otherwiseIf } from './otherwise-if/definition.ts';
import { pdf } from './pdf/definition.ts';
import { photo } from './photo/definition.ts';
import { playSound } from './sound/definition.ts';
import { pullOutStep } from './pull-out/definition.ts';
import { qr } from './qr/definition.ts';
import { question } from './question/definition.ts';
import { readPlace } from './place/definition.ts';
import { recordSound } from './record/definition.ts';
import { lookBack } from './look-back/definition.ts';
import { refresh } from './refresh/definition.ts';
import { remove } from './remove/definition.ts';
import { repeat } from './repeat/definition.ts';
import { requestStep } from './request/definition.ts';
import { run } from './run/definition.ts';
import { saveFile } from './save-file/definition.ts';
import { scan } from './scan/definition.ts';
import { raise } from './raise/definition.ts';
import { total } from './total/definition.ts';
import { set } from './set/definition.ts';
import { setVariable } from './variable/definition.ts';
import { share } from './share/definition.ts';
import { signIn } from './sign-in/definition.ts';
import { signOut } from './sign-out/definition.ts';
import { silence } from './silence/definition.ts';
import { speak } from './speak/definition.ts';
import { stop } from './stop/definition.ts';
import { together } from './together/definition.ts';
import { sumUpStep } from './sum-up/definition.ts';
import { textMessage } from './text-message/definition.ts';
import { timerStep } from './timer/definition.ts';
import { toStart } from './start/definition.ts';
import { wait } from './wait/definition.ts';
import { workOut } from './work-out/definition.ts';

/** Every kind of step, in the order they are offered. One line a kind. */
export const STEPS = [
  set,
  raise,
  total,
  add,
  remove,
  get,
  find,
  workOut,
  setVariable,
  ask,
  askSomebody,
  menu,
  question,
  message,
  open,
  back,
  toStart,
  closeSheet,
  elementStep,
  fill,
  refresh,
  lookBack,
  ifStep,
  choose,
  each,
  repeat,
  wait,
  hold,
  timerStep,
  run,
  give,
  stop,
  together,
  mail,
  textMessage,
  notify,
  pdf,
  csv,
  calendarFile,
  contactsFile,
  qr,
  requestStep,
  signIn,
  signOut,
  sumUpStep,
  judgeStep,
  draftStep,
  pullOutStep,
  describeStep,
  photo,
  caption,
  scan,
  readPlace,
  speak,
  recordSound,
  playSound,
  silence,
  buzz,
  share,
  copy,
  openAddress,
  saveFile,
  notice,
  awake,
  choice,
  caseStep,
  otherwiseIf,
] as const;

/** What a kind of step is for, as they are offered. */
export const PURPOSES: [name: string, kinds: readonly string[]][] = [
  ['Records', ['set', 'raise', 'total', 'add', 'remove', 'get', 'find', 'work out', 'together']],
  [
    'Screen',
    ['open', 'back', 'start', 'close', 'message', 'ask', 'menu', 'question', 'element', 'fill', 'refresh', 'look back'],
  ],
  ['Variables', ['variable']],
  ['Flow', ['if', 'choose', 'each', 'repeat', 'wait', 'hold', 'timer', 'run', 'give', 'stop']],
  ['Services', ['request', 'sign in', 'sign out']],
  ['Out', ['mail', 'text message', 'notify', 'ask somebody', 'pdf', 'csv', 'calendar file', 'contacts', 'qr']],
  ['Words', ['sum up', 'judge', 'draft', 'pull out', 'describe']],
  [
    'Device',
    [
      'photo',
      'caption',
      'scan',
      'place',
      'speak',
      'record',
      'sound',
      'silence',
      'buzz',
      'share',
      'copy',
      'address',
      'save file',
      'notice',
      'awake',
    ],
  ],
];

import type { SearchWords } from '../../core/document/search-words.ts';
import type { STEPS } from './index.ts';

/** What people look for the steps by. Apart from the definitions, since the player loads those and searches nothing. */
export const STEP_WORDS: Record<(typeof STEPS)[number]['do'], SearchWords> = {
  set: [
    'update, change, edit, modify, save, write, assign, update record, set value, edit record, mark, toggle, check off, rename, status, put, patch, complete',
  ],
  raise: [
    'increase, decrease, increment, decrement, add to, subtract, count up, count down, plus, minus, increase by, decrease by, counter, points, stock, score, lower, take from',
  ],
  total: [
    'running total, balance, stock level, sum, tally, count by, upsert, increase or create, create if missing, aggregate, rollup, group total, accumulate, ledger, stock movement, per place',
  ],
  add: [
    'create, create record, new record, insert, add row, new, submit, save new, favourite, log, book, register, duplicate, copy record, append',
  ],
  remove: ['delete, delete record, erase, clear, trash, destroy, unfavourite, cancel, remove row, drop'],
  get: ['find, look up, lookup, get record, fetch one, search, query, read record, load record, first'],
  find: ['query, search, fetch, get all, list records, filter, records where, read records, load records, select'],
  'work out': [
    'calculate, compute, formula, expression, count, sum, average, total, random, random number, math, maths, evaluate, format, concatenate, define',
  ],
  variable: [
    'set variable, state, store, remember, memory, local variable, keep, counter, clear variable, value, session, setting, assign',
  ],
  ask: [
    'confirm, confirmation, are you sure, yes or no, dialog, alert with buttons, prompt, question, modal, popup with buttons',
  ],
  'ask somebody': [
    'approval, approve, ask a person, assign, human task, request answer, wait for answer, wait for reply, question to somebody, confirm by, sign off, decide, poll, survey, delegate, task',
  ],
  menu: ['action sheet, choose, options, pick, select, list of choices, popup menu, picker, bottom sheet, dropdown'],
  question: ['prompt, input dialog, ask for text, ask for number, type in, popup input, enter, ask the user'],
  message: [
    'popup, alert, toast, pop-up, snackbar, notification, banner, show text, info, feedback, tell, display, dialog, success message, error message, modal',
  ],
  open: [
    'navigate, navigate to, go to, go to screen, link, show screen, open page, switch screen, redirect, view, push, tab, modal, route, details',
  ],
  back: ['go back, previous, return, close screen, pop, dismiss, cancel'],
  start: ['home, first screen, restart, go home, root, main screen, reset navigation'],
  close: ['dismiss, close popup, close modal, hide sheet, close dialog, bottom sheet'],
  element: [
    'show, hide, visible, visibility, enable, disable, scroll to, focus, toggle, display, expand, collapse, scroll, jump to',
  ],
  fill: ['set input, prefill, enter text, populate, form value, set field, autofill, clear input'],
  'look back': [
    'history, audit, audit trail, audit log, log of changes, versions, revisions, changes, who changed, restore, revert, roll back, put back, earlier value, track changes, activity',
  ],
  refresh: ['reload, sync, fetch, update data, synchronise, synchronize, pull'],
  if: ['condition, conditional, branch, when, else, check, only if, decision, compare, otherwise, unless, logic'],
  choose: ['switch, case, switch case, by value, branches, depending on, match, router, decision'],
  each: ['loop, for each, for all, iterate, repeat for, every record, bulk, batch, go through, foreach'],
  repeat: ['loop, while, until, do while, times, again, for loop'],
  wait: ['delay, pause, sleep, timer, later, after, seconds, remind, reminder, schedule'],
  hold: ['wait until, wait for, pause until, block until, remind, when something happens'],
  timer: ['start timer, stop timer, interval, schedule, stopwatch, every second, clock, repeat every, polling'],
  run: [
    'call, function, run routine, subroutine, workflow, action, trigger, execute, macro, start a routine, call function',
  ],
  give: ['return, output, result, give back value, return value'],
  stop: ['end, exit, abort, cancel, break, quit, finish, return, terminate'],
  together: ['transaction, all or nothing, atomic, batch, group, at once, rollback'],
  mail: ['email, e-mail, send email, newsletter, message, write, invite, invitation, smtp, letter, remind, reminder'],
  'text message': ['sms, text, send sms, message, phone message, mobile, remind'],
  notify: [
    'push notification, push, notification, alert people, announce, broadcast, remind, reminder, tell others, notify users, ping',
  ],
  pdf: ['pdf, document, report, invoice, print, printout, export, certificate, receipt, export pdf, label'],
  csv: ['csv, excel, spreadsheet, export, download, table file, export data, xlsx, backup'],
  'calendar file': ['ical, ics, calendar event, add to calendar, appointment, event, invite, export, reminder'],
  contacts: ['vcard, vcf, contact, address book, export contacts, add contact, business card'],
  qr: ['qr code, generate qr, make code, barcode, generate code, ticket'],
  'sum up': ['summarise, summarize, summary, shorten, tl dr, abstract, ai, digest'],
  'sign in': ['log in, login, sign on, authenticate, oauth, single sign-on'],
  'sign out': ['log out, logout, sign off, end session, leave'],
  request: ['api, http, rest, web service, call, fetch, get, post, webhook, endpoint, url, integration, backend'],
  judge: ['classify, categorise, categorize, sentiment, label, tag, ai, sort into, decide, moderation'],
  draft: ['write text, generate text, reply, compose, ai, prompt, answer, generate'],
  'pull out': ['extract, parse, find dates, recognise, recognize, ai, data extraction, read out of text, ocr'],
  describe: ['image description, recognise image, recognize image, alt text, ai, vision, analyse picture, colours'],
  photo: [
    'camera, take picture, take photo, picture, image, gallery, upload, upload photo, pick image, selfie, choose file, capture, attach',
  ],
  caption: ['watermark, text on picture, meme, overlay text, label picture, edit image, annotate'],
  scan: ['scanner, barcode, bar code, qr scanner, scan qr, read code, scan barcode, ean'],
  place: ['location, gps, where am i, get location, position, coordinates, geolocation, current location, nearby'],
  speak: ['text to speech, tts, read aloud, voice, say, speech, speak, narrate'],
  record: ['record audio, microphone, voice memo, audio, voice message, dictate, recorder, mic'],
  sound: ['play audio, music, sound effect, mp3, play, ring, beep, play sound, audio'],
  silence: ['stop audio, mute, pause music, stop playing, quiet'],
  buzz: ['vibrate, vibration, haptic, shake, haptics, rumble'],
  share: ['share sheet, share link, send to, social, forward, share text, invite friends'],
  copy: ['copy to clipboard, clipboard, copy text, copy link'],
  address: [
    'open link, url, website, browser, web page, call, phone call, dial, link, open website, start a mail, hyperlink, maps, directions',
  ],
  'save file': ['download, save, export, store file, save to device'],
  notice: ['local notification, notification, remind me, reminder, alert, badge, notify me'],
  awake: ['keep screen on, prevent sleep, stay awake, wake lock, screen timeout, brightness'],
  choice: ['option, menu item, choice of a menu, action'],
  case: ['case, when, value, option of a switch'],
  'otherwise if': ['else if, elseif, elif, another condition, otherwise'],
};

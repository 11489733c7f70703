import type { SearchWords } from '../../core/document/search-words.ts';
import type { TRIGGERS } from './index.ts';

/** What people look for the starts of a routine by. Apart from the definitions, since the player loads those. */
export const TRIGGER_WORDS: Record<(typeof TRIGGERS)[number]['on'], SearchWords> = {
  tap: ['button, press, click, touch, on tap, on press, on click, link, long press'],
  form: ['submit, form submitted, saved, after saving, on submit, on save, record added, new entry'],
  'app started': ['launch, on start, startup, app opens, on load, open app, boot'],
  'screen opened': ['on load, page load, screen shown, on appear, on enter, when opened, visible'],
  'screen left': ['on leave, on exit, screen closed, on disappear, page left, close'],
  'screen returned': ['on return, come back, on focus, on resume, reappear'],
  'field changed': [
    'value changed, on change, edited, input changed, field updated, record changed, record updated, toggle changed',
  ],
  'variable changed': ['state changed, on change, variable updated, watch, observe'],
  timer: ['every second, interval, clock, repeat every, countdown, stopwatch, tick'],
  'record changed': [
    'on create, on insert, on update, on delete, record added, record updated, database trigger, new row, server, automation',
  ],
  'record becomes': [
    'threshold, falls below, condition met, becomes true, watch, alert when, reaches, state changes to',
  ],
  clock: [
    'every minute, every hour, schedule, scheduled, cron, daily, weekly, monthly, every day, every morning, nightly, at a time, recurring',
  ],
  'date reached': ['reminder, due date, deadline, before due, days before, days after, anniversary, expiry, expires'],
  'mail came': ['email received, incoming email, inbound email, inbox, new message, ticket by email, mailbox'],
  'hook called': ['webhook, callback, http request, inbound webhook, api call, endpoint, post request, integration'],
  'person came': [
    'user signed up, sign up, user joined, new member, login, logout, invited, registration, onboarding, welcome',
  ],
  'run failed': ['error, on error, failure, exception, alert me, monitoring, when it breaks'],
  'notice opened': ['notification tapped, push opened, notification opened, push notification'],
  routine: ['called, subroutine, function, run by, another workflow, run'],
};

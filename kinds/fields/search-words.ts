import type { SearchWords } from '../../core/document/search-words.ts';
import type { FIELDS } from './index.ts';

/** What people look for the types of a field by. Apart from the definitions, since the player loads those. */
export const FIELD_WORDS: Record<(typeof FIELDS)[number]['type'], SearchWords> = {
  text: ['string, words, short text, name, title, single line, label, varchar'],
  longtext: ['paragraph, notes, description, multi line, multiline, rich text, comment, markdown, text area, body'],
  number: ['integer, decimal, quantity, amount, count, float, numeric, int, score, points, weight'],
  money: ['price, currency, euro, dollar, cost, amount, fee, salary, total'],
  percent: ['percentage, rate, share, discount, progress'],
  rating: ['stars, score, star rating, review, likes'],
  yesno: ['boolean, checkbox, toggle, switch, tick, true false, on off, flag, done, check box'],
  choice: [
    'dropdown, select, options, status, category, tag, tags, single select, multi select, enum, radio, labels, state, type',
  ],
  date: ['day, birthday, deadline, due date, calendar'],
  datetime: ['date and time, timestamp, moment, appointment, event time, when'],
  time: ['clock, hour, time of day, opening hours'],
  duration: ['length of time, hours, minutes, time span, how long'],
  link: [
    'relation, relationship, reference, foreign key, lookup, join, connected record, parent, belongs to, linked record',
  ],
  person: ['user, owner, assignee, member, assigned to, who'],
  mail: ['email, e-mail, email address'],
  phone: ['telephone, mobile, phone number, cell'],
  web: ['url, link, website, web address, hyperlink, homepage'],
  picture: ['image, photo, avatar, attachment, icon, logo, camera, gallery, signature, drawing'],
  sound: ['audio, voice, recording, music, mp3'],
  file: ['attachment, document, upload, pdf, files'],
  place: ['location, gps, coordinates, address, map, latitude, longitude, geo'],
  plan: ['floor plan, position on a picture, seat, spot, image map, x and y'],
  code: ['barcode, qr code, ean, bar code, serial number, scan'],
  id: ['unique id, autonumber, auto number, key, serial, identifier, uuid, primary key, counter'],
  formula: ['calculation, computed, calculated, rollup, lookup, sum, total, expression, derived'],
  created: ['created at, creation date, date added, timestamp, created time'],
  changed: ['modified, last modified, updated at, last edited, changed at'],
};

import type { SearchWords } from '../../core/document/search-words.ts';
import type { ELEMENTS } from './index.ts';

/**
 * What people look for the elements by. Apart from the definitions, since the player loads those and searches nothing.
 */
export const ELEMENT_WORDS: Record<(typeof ELEMENTS)[number]['kind'], SearchWords> = {
  text: [
    'label, heading, header, title, subtitle, paragraph, caption, words, sentence, typography, h1, headline, number shown',
  ],
  rich: [
    'rich text, markdown, article, formatted text, bullet list, bullets, bold, hyperlink, link in text, blog post, terms, html',
  ],
  button: [
    'link, call to action, cta, press, action, submit, icon button, floating button, fab, float, add button, tap',
    ['like, favourite, heart, bookmark', 'a tap on it runs a routine'],
    ['switch screen, navigation, navigate, go to', 'a tap on it opens a screen'],
    ['popup, pop-up, modal, dialog, alert, bottom sheet', 'a tap can open a screen as a sheet, or show a message'],
    ['share, print, download, export, log out, logout, sign out', 'a tap on it runs a routine'],
  ],
  picture: ['image, photo, logo, avatar, profile picture, thumbnail, banner, hero, illustration, gif, cover, graphic'],
  icon: ['symbol, sign, glyph, pictogram, emoji, star, heart'],
  badge: ['tag, chip, label, pill, status, counter, notification dot, token'],
  box: [
    'container, group, row, column, stack, card, panel, frame, section, layout, grid, wrapper, div, flex, columns, tile, block, surface, horizontal, vertical, overlay, layers',
  ],
  space: ['spacer, gap, margin, padding, blank, white space, distance'],
  divider: ['line, separator, rule, hr, horizontal line, border'],
  list: [
    'records, rows, items, repeat, repeater, feed, cards, card list, grid of cards, collection, results, index, directory, catalogue, catalog, inbox, timeline, entries',
    ['gallery, photo grid, image grid, tiles', 'runs as a grid'],
    ['carousel, horizontal list, scroller', 'runs across'],
    ['chat, messages, comments, conversation, thread', 'of records that a form below it adds'],
    ['filter, sort, search, group', 'set on the list'],
    ['swipe, swipe to delete, pull to refresh, checklist, to do, todo', 'rows that can be tapped and swiped'],
    ['leaderboard, ranking, top ten', 'sorted by a number'],
  ],
  table: ['data table, spreadsheet, grid, columns, rows, datagrid, matrix, comparison'],
  board: ['kanban, columns, lanes, pipeline, swimlanes, stages, drag cards, scrum'],
  calendar: [
    'month, week, day, agenda, schedule, events, event, date view, booking, appointments, planner, diary, timetable, rota, shifts',
  ],
  plan: [
    'map, location, pins, markers, places, geo, gps, floor plan, site plan, seating plan, seats, nearby, image map, hotspots, directions, route, store locator',
  ],
  chart: [
    'graph, bar chart, line chart, pie, pie chart, donut, doughnut, ring, area chart, statistics, dashboard, kpi, metric, number tile, trend, report, histogram, total, plot, figures',
    ['gauge, stats', 'as a number or a ring'],
  ],
  progress: [
    'progress bar, percent, percentage, ring, loader, goal, target, completion, meter, gauge, steps, level, battery',
    ['score', 'shows how much of a goal is reached'],
  ],
  reading: [
    'label and value, detail, field, property, key value, data, attribute, fact, display field, info, read only',
  ],
  input: [
    'text field, text box, textbox, textarea, entry, enter, fill in, type, edit, form field, numeric input, email field, phone field, search box, search bar, number field, stepper',
    [
      'dropdown, drop-down, select, picker, combo box, combobox, choose, option, options, autocomplete',
      'a menu, for a field of choices or a link',
    ],
    ['radio, radio button, segmented control, single choice, multiple choice, quiz', 'chips, for a field of choices'],
    ['checkbox, check box, tick, multi select, multiselect, checklist', 'ticks, for a yes or no or several choices'],
    ['toggle, switch, on off, yes no, boolean', 'a switch, for a field of yes or no'],
    ['slider, range, volume', 'a slider, for a number with a least and a most'],
    [
      'date, date picker, datepicker, time, time picker, calendar picker, birthday, deadline',
      'for a field of a date or time',
    ],
    [
      'upload, file upload, attach, attachment, photo upload, camera, take photo, document, selfie',
      'for a field of a picture or file',
    ],
    ['rating, stars, star rating, review, feedback', 'stars, for a field of a rating'],
    ['signature, sign, draw, drawing, sketch, canvas, paint', 'by drawing or signing, for a picture field'],
    ['scanner, scan, barcode scanner, qr scanner', 'for a field of a code'],
    ['colour picker, color picker', 'chips, for a field of choices'],
    ['location picker, address', 'for a field of a place'],
    ['voice, microphone, audio recorder, record', 'for a field of a sound'],
    ['password, pin, passcode, otp', 'a text; nothing is hidden in it yet'],
  ],
  form: [
    'survey, questionnaire, registration, sign up, contact form, add record, edit record, submit, booking form, order form, application, entry form, feedback form, poll, checkout, quiz',
    ['login, log in, sign in, authentication', 'there is no sign-in yet; a list of what is “mine” asks who it is'],
  ],
  search: ['search, global search, search bar, search everything, find, lookup, omnibox', 'search of several tables'],
  tabs: ['tab bar inside, segmented, switch views, pages, segments, tab view'],
  slides: [
    'carousel, onboarding, walkthrough, slideshow, intro, pager, swipe pages, wizard, steps, tour, tutorial, story, stories, slider of pictures, image slider',
  ],
  fold: [
    'accordion, collapse, collapsible, expand, expander, expandable, faq, show more, read more, disclosure, details, spoiler, toggle section',
  ],
  code: ['qr, qr code, bar code, barcode, ticket, member card, loyalty card, ean, code 128, voucher, pass, coupon'],
  player: ['video, audio, sound, music, podcast, movie, mp3, mp4, media, film, clip, stream, song, radio station'],
  countdown: ['timer, stopwatch, clock, time left, deadline, days left, count down'],
  page: ['web page, website, web view, webview, iframe, embed, html, url, embedded page, browser, external page'],
  playfield: ['game, canvas, animation, sprites, physics, play, arcade, world, stage'],
  sprite: ['figure, character, player figure, game piece, enemy, ball, avatar in a game'],
  part: ['component, reusable, template, symbol, widget, module, block'],
};

import type { SearchWords } from '../../core/document/search-words.ts';

/** A place of the studio to go to, or something to do, that Find leads to by the words people use for it. */
export interface Command {
  id: string;
  name: string;
  words: SearchWords;
  /** The place it leads to, below the app; without one, what opened Find does it. */
  to?: string;
}

export const COMMANDS: readonly Command[] = [
  {
    id: 'data',
    name: 'Data',
    to: 'data',
    words: ['tables, database, spreadsheet, records, sheets, import, excel, csv, bring a file, upload data, columns'],
  },
  {
    id: 'screens',
    name: 'Screens',
    to: 'screens',
    words: ['pages, views, design, layout, ui, interface, editor, builder, elements'],
  },
  {
    id: 'logic',
    name: 'Logic',
    to: 'logic',
    words: [
      'routines, workflows, actions, automation, automations, events, functions, code, behaviour, triggers, flows, scripts',
    ],
  },
  {
    id: 'services',
    name: 'Services',
    to: 'services',
    words: [
      'api, apis, rest, http, web services, backend, requests, endpoints, integrations, connect, connectors, curl, openapi, swagger, odata, json, token, oauth, webhooks, data sources, external data',
    ],
  },
  {
    id: 'people',
    name: 'People',
    to: 'people',
    words: [
      'users, members, accounts, roles, permissions, rights, access, access control, rules, security, privacy, login, sign in, authentication, admins, administrators, invite, invitations, sessions, who can see',
    ],
  },
  {
    id: 'rehearse',
    name: 'Rehearse',
    to: 'rehearse',
    words: [
      'test, try out, preview, simulate, simulator, emulator, staging, sandbox, several users, as another user, clock, time travel, offline, slow network, dry run',
    ],
  },
  {
    id: 'release',
    name: 'Release',
    to: 'release',
    words: [
      'publish, deploy, share, launch, go live, qr code, link, address, install, app store, version, domain, url, channel, history, versions, icon, send to phone',
    ],
  },
  {
    id: 'theme',
    name: 'Theme',
    to: 'screens/theme',
    words: [
      'colours, colors, fonts, font, dark mode, light mode, style, branding, brand, design, corners, look, appearance, palette, css, logo',
    ],
  },
  {
    id: 'map',
    name: 'Map of the screens',
    to: 'screens/map',
    words: ['flow, navigation, overview, diagram, sitemap, flowchart, all screens, user flow'],
  },
  {
    id: 'tabs',
    name: 'Tab bar',
    to: 'screens/tabs',
    words: ['navigation, bottom navigation, bottom bar, menu, tabs, nav bar, navbar, footer'],
  },
  {
    id: 'drawer',
    name: 'Side drawer',
    to: 'screens/drawer',
    words: ['hamburger, side menu, sidebar, burger menu, menu, navigation, side bar'],
  },
  {
    id: 'start',
    name: 'Start',
    to: 'screens/start',
    words: [
      'home screen, first screen, splash, onboarding, login screen, welcome, launch screen, landing page, home page',
    ],
  },
  {
    id: 'links',
    name: 'How tables relate',
    to: 'data/links',
    words: ['relations, relationships, diagram, schema, er diagram, links, joins, data model'],
  },
  {
    id: 'facts',
    name: 'App facts',
    to: 'data/facts',
    words: ['settings, constants, config, configuration, global values, options, app settings, variables'],
  },
  { id: 'undo', name: 'Undo', words: ['back, revert, ctrl z, take back, go back a step, oops'] },
  { id: 'redo', name: 'Do again', words: ['redo, ctrl y, again, repeat'] },
  { id: 'keys', name: 'Keys', words: ['shortcuts, keyboard, hotkeys, keyboard shortcuts, help'] },
  {
    id: 'phone',
    name: 'Fold the phone away, or out',
    words: ['preview, test, try, simulator, emulator, device, hide phone, full width'],
  },
];

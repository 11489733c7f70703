import { Router, type Request, type RequestHandler, type Response } from 'express';
import { z } from 'zod';
import type { Bodies } from './bodies.ts';
import { DOORS } from './door-table.ts';
import { BESIDE_COOKIE, SESSION_COOKIE, type Caller } from './entrance.ts';
import { Refused } from '../core/document/refused.ts';
import type { PasskeyWays } from './passkey-ways.ts';
import { MadePasskey, UsedPasskey, type Site } from './passkeys.ts';
import type { Begun, People } from './people.ts';
import { sendKept } from './kept-zip.ts';
import { perMinute } from './rate.ts';
import { open } from './routes.ts';

const Mail = z.object({ mail: z.string().min(3).max(254) });
/** Those who have signed in in the same browser stay so. */
const beside = z.boolean().optional();
const Code = z.object({ attempt: z.string().max(100), code: z.string().min(6).max(20), beside });
const Invited = z.object({ token: z.string().max(100), beside });
const Switch = z.object({ person: z.string().max(60) });
const Invite = z.object({
  mails: z.array(z.string().min(3).max(254)).min(1).max(500),
  /** Each gets a mail with their link, and these words before it. */
  words: z.string().max(2000).optional(),
  /** The role that they have from then on, by its id. */
  role: z.string().max(30).optional(),
});
const Made = z.object({ attempt: z.string().max(100), made: MadePasskey });
const Used = z.object({ attempt: z.string().max(100), used: UsedPasskey, beside });
/** The tables whose records that lead to the person go along. */
const Erase = z.object({ tables: z.array(z.string().max(60)).max(500) });
/** Browsers drop it after so many seconds; the host ends sessions by itself. */
const MAX_AGE_S = 180 * 86_400;

function read<T>(schema: z.ZodType<T>, req: Request): T {
  try {
    return schema.parse(JSON.parse((req.body as Buffer).toString('utf8')));
  } catch {
    throw new Refused(422, 'This is not what is asked for here.');
  }
}

/** A token goes to this app alone, is seen by no script, and is not sent by other sites. */
function setCookie(req: Request, res: Response, { name }: Caller, cookie: string, token: string | null): void {
  const secure = req.protocol === 'https' ? '; Secure' : '';
  const age = token === null ? 0 : MAX_AGE_S;
  res.append(
    'set-cookie',
    `${cookie}=${token ?? ''}; Path=/api/apps/${name}; Max-Age=${age}; HttpOnly; SameSite=Strict${secure}`,
  );
}
const setToken = (req: Request, res: Response, caller: Caller, token: string | null): void =>
  setCookie(req, res, caller, SESSION_COOKIE, token);
function setBegun(req: Request, res: Response, caller: Caller, { token, others }: Begun): void {
  setToken(req, res, caller, token);
  if (others.length || caller.others?.length) setCookie(req, res, caller, BESIDE_COOKIE, others.join('.') || null);
}

/** The page that asks, as its browser names it. */
const siteOf = (req: Request): Site => ({ host: req.hostname, origin: `${req.protocol}://${req.get('host')}` });

/** What is told of sessions is kept by no browser. */
const unkept: RequestHandler = (_req, res, next) => {
  res.set('cache-control', 'no-store');
  next();
};

/** Signing in and out, sessions and invitations. */
export function peopleRoutes(people: People, passkeys: PasskeyWays, bodies: Bodies): Router {
  const routes = Router();
  const json = bodies.taking('application/json', 100_000, 'Send JSON in UTF-8.');
  const browser = (req: Request): string => req.get('user-agent') ?? '';
  open(routes, DOORS.signIn, [unkept, perMinute(20), json], async (req, res, caller) =>
    res.json(await people.begin(caller, read(Mail, req).mail)),
  );
  open(routes, DOORS.code, [unkept, perMinute(30), json], async (req, res, caller) => {
    const { attempt, code, beside } = read(Code, req);
    setBegun(req, res, caller, await people.confirm({ ...caller, beside }, attempt, code, browser(req)));
    return res.json({ signedIn: true });
  });
  open(routes, DOORS.invited, [unkept, perMinute(30), json], async (req, res, caller) => {
    const { token, beside } = read(Invited, req);
    setBegun(req, res, caller, await people.invited({ ...caller, beside }, token, browser(req)));
    return res.json({ signedIn: true });
  });
  open(routes, DOORS.session, [unkept, perMinute(240)], async (req, res, caller) => {
    const { who, others, token } = await people.session(caller);
    if (token !== null) setToken(req, res, caller, token);
    return res.json({ who, ...(others.length && { others }) });
  });
  open(routes, DOORS.switchTo, [unkept, perMinute(30), json], async (req, res, caller) => {
    setBegun(req, res, caller, await people.switchTo(caller, read(Switch, req).person));
    return res.json({ signedIn: true });
  });
  open(routes, DOORS.signOut, [unkept, perMinute(60)], async (req, res, caller) => {
    await people.signOut(caller);
    setToken(req, res, caller, null);
    return res.json({ signedOut: true });
  });
  open(routes, DOORS.sessions, [unkept, perMinute(60)], async (_req, res, caller) =>
    res.json({ sessions: await people.sessions(caller) }),
  );
  open(routes, DOORS.endSession, [unkept, perMinute(60)], async (req, res, caller) => {
    await people.end(caller, String(req.params['id']));
    return res.json({ ended: true });
  });
  open(routes, DOORS.invite, [unkept, perMinute(60), json], async (req, res, caller) => {
    const { mails, words, role } = read(Invite, req);
    const linkOf = (token: string): string => `${req.protocol}://${req.get('host')}/a/${caller.name}/#invited=${token}`;
    const mailed = words === undefined ? {} : { mailed: { words, linkOf } };
    return res.json({ invited: await people.invite(caller, mails, { ...mailed, role }) });
  });
  open(routes, DOORS.people, [unkept, perMinute(240)], async (_req, res, caller) =>
    res.json(await people.people(caller)),
  );
  open(routes, DOORS.mine, [unkept, perMinute(6)], async (_req, res, caller) =>
    sendKept(res, await people.keptAbout(caller)),
  );
  open(routes, DOORS.keptAbout, [unkept, perMinute(30)], async (req, res, caller) =>
    sendKept(res, await people.keptAbout(caller, String(req.params['person']))),
  );
  open(routes, DOORS.askPasskey, [unkept, perMinute(60), json], async (req, res, caller) =>
    res.json(await passkeys.ask(caller, siteOf(req))),
  );
  open(routes, DOORS.usePasskey, [unkept, perMinute(30), json], async (req, res, caller) => {
    const { attempt, used, beside } = read(Used, req);
    setBegun(req, res, caller, await passkeys.use({ ...caller, beside }, siteOf(req), attempt, used, browser(req)));
    return res.json({ signedIn: true });
  });
  open(routes, DOORS.passkeys, [unkept, perMinute(60)], async (_req, res, caller) =>
    res.json({ passkeys: await passkeys.list(caller) }),
  );
  open(routes, DOORS.beginPasskey, [unkept, perMinute(30), json], async (req, res, caller) =>
    res.json(await passkeys.begin(caller, siteOf(req))),
  );
  open(routes, DOORS.addPasskey, [unkept, perMinute(30), json], async (req, res, caller) => {
    const { attempt, made } = read(Made, req);
    await passkeys.add(caller, siteOf(req), attempt, made, browser(req));
    return res.json({ added: true });
  });
  open(routes, DOORS.removePasskey, [unkept, perMinute(60)], async (req, res, caller) => {
    await passkeys.remove(caller, String(req.params['id']));
    return res.json({ removed: true });
  });
  open(routes, DOORS.erasable, [unkept, perMinute(60)], async (req, res, caller) =>
    res.json(await people.erasable(caller, String(req.params['person']))),
  );
  open(routes, DOORS.erase, [unkept, perMinute(10), json], async (req, res, caller) => {
    await people.erase(caller, read(Erase, req).tables, String(req.params['person']));
    return res.json({ erased: true });
  });
  open(routes, DOORS.erasableMe, [unkept, perMinute(30)], async (_req, res, caller) =>
    res.json(await people.erasable(caller)),
  );
  open(routes, DOORS.eraseMe, [unkept, perMinute(6), json], async (req, res, caller) => {
    await people.erase(caller, read(Erase, req).tables);
    setToken(req, res, caller, null);
    return res.json({ erased: true });
  });
  return routes;
}

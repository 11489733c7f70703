import { newId } from '../document/ids.ts';
import { freeName } from '../document/names.ts';
import { asWords } from '../records/words.ts';
import type { ServiceRequest } from '../services/schema.ts';
import { takenByOthers } from '../tables/names.ts';
import type { Variable } from '../tables/schema.ts';
import { ElementMaker } from './make.ts';
import type { App, Element, Routine, SignIn } from './schema.ts';
import { requestWithService } from './services.ts';

/** Setting up how people sign in with the maker's own service. */

const TOKEN = /\b(access token|id token|token|jwt|bearer|session)\b/i;
const RENEWAL = /refresh|renew/i;
const SECONDS = /expires? in|expiry|seconds|ttl|lifetime/i;

type Picks = ServiceRequest['picks'];

/** What the answer to signing in has, by what its picks are called. */
export function tokensIn(picks: Picks): Pick<SignIn, 'token' | 'renewal' | 'seconds'> | null {
  const token = picks.find(
    (p) => p.type === 'text' && TOKEN.test(p.name) && !RENEWAL.test(p.name) && !/type/i.test(p.name),
  );
  if (!token) return null;
  const renewal = picks.find((p) => p.type === 'text' && RENEWAL.test(p.name));
  const seconds = picks.find((p) => p.type === 'number' && SECONDS.test(p.name));
  return { token: token.id, ...(renewal && { renewal: renewal.id }), ...(seconds && { seconds: seconds.id }) };
}

const requestsOf = (app: App): ServiceRequest[] => (app.services ?? []).flatMap((s) => s.requests);
const isCalled = (r: ServiceRequest, names: RegExp): boolean => names.test(r.name) || names.test(r.path);
const pathInput = (r: ServiceRequest): string | undefined =>
  r.inputs.find((i) => RENEWAL.test(i.name))?.id ?? r.inputs[0]?.id;

/** The requests that can sign somebody in: what they answer has a token. */
export const enterRequests = (app: App): ServiceRequest[] =>
  requestsOf(app).filter((r) => tokensIn(r.picks) !== null && r.inputs.length > 0 && !isCalled(r, RENEWAL));

/** A request as one that renews the token. */
export function renewBy(request: ServiceRequest): NonNullable<SignIn['renew']> | null {
  const tokens = tokensIn(request.picks);
  const input = pathInput(request);
  return tokens && input ? { request: request.id, input, ...tokens } : null;
}

/**
 * Sets up signing in by a request: what renews, tells and ends it is found by its name; a screen to sign in is made, and one
 * to sign up where there is a request for that. Services that want a token get that of the person from now on.
 */
export function setUpSignIn(app: App, enterId: string): string | null {
  const found = requestWithService(app, enterId);
  const tokens = found && tokensIn(found.request.picks);
  if (!found || !tokens) return null;
  const { service, request: enter } = found;
  enter.open = true;
  const of = service.requests;
  const renewing = of.find((r) => r.id !== enterId && isCalled(r, RENEWAL) && tokensIn(r.picks));
  if (renewing) renewing.open = true;
  const renew = renewing && renewBy(renewing);
  const who = of.find(
    (r) => r.method === 'GET' && isCalled(r, /who am i|\bme\b|profile|user ?info|current user|account/i),
  );
  const leave = of.find((r) => isCalled(r, /sign.?out|log.?out|revoke/i));
  const join = of.find((r) => r.method === 'POST' && isCalled(r, /sign.?up|register|join/i));
  if (join) join.open = true;
  if (service.sign.how === 'bearer' || service.sign.how === 'none') service.sign = { how: 'person' };
  const facts = who ? addFacts(app, who.picks) : [];
  const screen = addSignInScreen(app, enter, join);
  app.signIn = {
    enter: enterId,
    ...tokens,
    ...(renew && { renew }),
    ...(who && { who: who.id }),
    ...(leave && { leave: leave.id }),
    facts,
    screen: screen.enter,
    open: screen.join ? [screen.join] : [],
    stays: true,
  };
  addRoutine(app, 'Sign out', [new ElementMaker().step('sign out')]);
  return screen.enter;
}

/** Keeps a claim of the token in a new variable: a time as a time, anything else as a text. */
export function addClaim(app: App, claim: string): void {
  const { signIn } = app;
  if (!signIn?.claims || signIn.claims.facts.some((f) => f.claim === claim)) return;
  const type = /^(iat|exp|nbf|auth_time|updated_at)$/.test(claim) ? 'datetime' : 'text';
  const words =
    claim === 'sub'
      ? 'number'
      : claim
          .replace(/^.*[/:]/, '')
          .replaceAll('_', ' ')
          .toLowerCase();
  const variable = addVariable(app, `My ${words || 'claim'}`.slice(0, 80), { type, lasts: 'device' });
  signIn.claims.facts.push({ claim, variable: variable.id });
}

/** Ends signing in; the screens and routines that were made for it stay. */
export function removeSignIn(app: App): void {
  delete app.signIn;
}

function addVariable(app: App, wanted: string, more: Pick<Variable, 'type' | 'lasts'> & Partial<Variable>): Variable {
  const taken = [...(app.variables ?? []).map((v) => v.name), ...takenByOthers(app)];
  const variable: Variable = { id: newId('v'), first: '', ...more, name: freeName(wanted, taken) };
  app.variables = [...(app.variables ?? []), variable];
  return variable;
}

/** What is known of the person, each kept in a variable. */
export function addFacts(app: App, picks: Picks): SignIn['facts'] {
  return picks.slice(0, 12).map((p) => {
    const variable = addVariable(app, `My ${p.name.toLowerCase()}`, { type: p.type, lasts: 'device' });
    return { pick: p.id, variable: variable.id };
  });
}

export function addRoutine(app: App, name: string, steps: Routine['steps']): Routine {
  const routine: Routine = {
    id: newId('q'),
    name: freeName(
      name,
      app.routines.map((r) => r.name),
    ),
    given: null,
    steps,
  };
  app.routines.push(routine);
  return routine;
}

const HIDDEN = /password|passphrase|secret|pin\b/i;

/** A screen whose inputs are what a request is given, with a button that asks it. */
function askingScreen(
  app: App,
  name: string,
  request: ServiceRequest,
  steps: (values: { field: string; value: string }[]) => Routine['steps'],
  below: Element[] = [],
): string {
  const make = new ElementMaker();
  const id = make.id('s');
  const inputs = request.inputs.filter((i) => !i.optional);
  const variables = inputs.map((i) => addVariable(app, i.name, { type: i.type, lasts: 'screen', screen: id }));
  const values = inputs.map((i, at) => ({ field: i.id, value: variables[at]!.id }));
  const routine = addRoutine(app, name, steps(values));
  addScreen(app, id, name, [
    make.text(asWords(name), 'title'),
    ...inputs.map((i, at) => ({
      ...make.input(variables[at]!.id),
      label: asWords(i.name),
      ...(HIDDEN.test(i.name) && { as: 'hidden' as const }),
    })),
    make.button(asWords(name), { do: 'routine', routine: routine.id }, { look: 'main', width: 'fill' }),
    ...below,
  ]);
  return id;
}

/** A screen of this work: one column, with room around. */
function addScreen(app: App, id: string, name: string, children: Element[]): void {
  const screens = app.screens.map((s) => s.name);
  app.screens.push({
    id,
    name: freeName(name, screens),
    given: null,
    icon: 'log-in',
    root: new ElementMaker().box('down', children, { inside: 16, gap: 14 }),
  });
}

/** A screen to sign in with these elements; gives its id. */
export function addScreenToSignIn(app: App, children: Element[]): string {
  const id = newId('s');
  addScreen(app, id, 'Sign in', children);
  return id;
}

function addSignInScreen(
  app: App,
  enter: ServiceRequest,
  join: ServiceRequest | undefined,
): { enter: string; join?: string } {
  const make = new ElementMaker();
  const asks = (request: ServiceRequest, values: { field: string; value: string }[]): Routine['steps'][number] => {
    const reason = make.id('v');
    return {
      ...make.step('request', { request: request.id, values }),
      reason,
      ifFails: [make.step('message', { words: `{${reason}}` }), make.step('stop')],
    };
  };
  const joined =
    join &&
    askingScreen(app, 'Sign up', join, (values) => {
      // Whoever has signed up is in at once, by what they have just typed.
      const entered = enter.inputs.flatMap((i) => {
        const same = join.inputs.find((j) => j.name === i.name);
        const value = values.find((v) => v.field === same?.id);
        return value ? [{ field: i.id, value: value.value }] : [];
      });
      const needed = enter.inputs.filter((i) => !i.optional).length;
      return [asks(join, values), ...(entered.length >= needed ? [asks(enter, entered)] : []), make.step('back')];
    });
  const entered = askingScreen(
    app,
    'Sign in',
    enter,
    (values) => [asks(enter, values)],
    joined ? [make.button('Sign up', { do: 'open', screen: joined, give: '' }, { look: 'quiet', width: 'fill' })] : [],
  );
  return { enter: entered, ...(joined && { join: joined }) };
}

import { defineNote, type Note } from '../../core/preflight/note.ts';
import type { App } from '../../core/app/schema.ts';
import { requestWithService } from '../../core/app/services.ts';
import { connected } from '../../core/tables/names.ts';
import type { Table, TableInStep } from '../../core/tables/schema.ts';
import { brokenPlace } from '../../core/services/places.ts';

const isAddress = (text: string): boolean => /^https?:\/\/[^\s/]+/i.test(text);

/** Services and requests that cannot be asked as they are, and tables that are fetched by nothing. */
export const brokenServices = defineNote({
  name: 'services that cannot be asked',
  find({ app }) {
    const notes: Note[] = [];
    const requests = new Set((app.services ?? []).flatMap((s) => s.requests.map((r) => r.id)));
    for (const s of app.services ?? []) {
      const at = (said: string, service = s.id): void =>
        void notes.push({ severity: 'stops', said, workspace: 'services', service });
      if (s.requests.length > 0 && !isAddress(s.test)) at(`${s.name} has no address.`);
      else if (s.live !== undefined && !isAddress(s.live)) at(`The address of ${s.name} for people is none.`);
      if (s.sign.how === 'client' && !isAddress(s.sign.tokens)) at(`${s.name} gets its tokens from no address.`);
      for (const r of s.requests) {
        const wrong = brokenPlace(r);
        if (wrong) at(`${r.name}: ${wrong}`, r.id);
      }
    }
    for (const t of app.tables) {
      const source = connected(t);
      if (source && !requests.has(source.request))
        notes.push({
          severity: 'stops',
          said: `${t.name} is fetched by a request that is not there any more.`,
          workspace: 'data',
          table: t.id,
        });
      else if (t.inStep)
        for (const [severity, said] of inStepFaults(app, t, t.inStep))
          notes.push({ severity, said, workspace: 'services', service: t.inStep.request });
    }
    for (const said of signInFaults(app))
      notes.push({ severity: 'stops', said, workspace: 'services', service: 'sign-in' });
    return notes;
  },
});

/** Why a table cannot be kept in step as it is meant to be. */
function inStepFaults(
  app: App,
  { name }: Table,
  { request: id, inputs, adds }: TableInStep,
): [severity: Note['severity'], said: string][] {
  const { service, request } = requestWithService(app, id)!;
  const faults: [Note['severity'], string][] = [];
  if (service.sign.how === 'person' && !request.open)
    faults.push([
      'stops',
      `${name} are kept in step by the server, which has nobody’s token: ${service.name} wants that of whoever has signed in. Fetch them when they are shown.`,
    ]);
  const { paging } = request;
  const missing = request.inputs.filter(
    (i) => !i.optional && inputs[i.id] === undefined && !(paging && 'input' in paging && paging.input === i.id),
  );
  for (const i of missing) faults.push(['stops', `${name} cannot be fetched: ${request.name} needs ${i.name}.`]);
  if (adds && !adds.at)
    faults.push([
      'look',
      `What is added to ${name} stays in the app alone: the answer does not say under which key it is there.`,
    ]);
  return faults;
}

/** Why people cannot sign in. */
function signInFaults({ signIn, screens }: App): string[] {
  if (!signIn) return [];
  const { claims, page, screen } = signIn;
  return [
    ...(claims && !isAddress(claims.keys) ? ['The keys that tokens are checked with have no address.'] : []),
    ...(page && !isAddress(page.authorize) ? ['The page where people sign in has no address.'] : []),
    ...(screens.some((s) => s.id === screen) ? [] : ['The screen to sign in is not there any more.']),
  ];
}

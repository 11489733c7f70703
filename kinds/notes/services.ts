import { defineNote, type Note } from '../../core/preflight/note.ts';
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
    for (const t of app.tables)
      if (t.fetched && !requests.has(t.fetched.request))
        notes.push({
          severity: 'stops',
          said: `${t.name} is fetched by a request that is not there any more.`,
          workspace: 'data',
          table: t.id,
        });
    if (app.signIn && !app.screens.some((s) => s.id === app.signIn!.screen))
      notes.push({
        severity: 'stops',
        said: 'The screen to sign in is not there any more.',
        workspace: 'services',
        service: 'sign-in',
      });
    return notes;
  },
});

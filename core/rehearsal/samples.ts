import type { App } from '../app/schema.ts';
import type { CameBack, Outgoing } from '../services/answer.ts';
import { FAILURES } from '../services/failures.ts';
import { goodSample, replyOf } from '../services/samples.ts';

const NONE =
  'In a rehearsal services answer from the samples that are kept of their requests. This one has none: try it in Services once.';

/** How a service of a rehearsal is: as it should be; with nobody there; too slow; with a fault of its own (status 500). */
export type ServiceFault = 'none' | 'away' | 'too slow' | 'broken';

/** Answers for the services of an app, with a fault where one was chosen for a service, by its id. */
export function answerFor(app: App, asked: Outgoing, faults: Readonly<Record<string, ServiceFault>>): CameBack {
  switch (faults[asked.service.id] ?? 'none') {
    case 'none':
      return fromSamples(app, asked);
    case 'away':
      return { failed: { sort: 'refused', words: FAILURES.refused } };
    case 'too slow':
      return { failed: { sort: 'too slow', words: FAILURES['too slow'] } };
    case 'broken':
      return replyOf({ id: '', name: '', status: 500, type: 'text/plain', body: 'Something is wrong here.' });
  }
}

/** Answers for the services of an app, from the samples that are kept of their requests: nobody outside is asked. */
function fromSamples(app: App, { service, filled }: Outgoing): CameBack {
  const known = app.services?.find((s) => s.id === service.id);
  const { pathname } = new URL(filled.url);
  const found = known?.requests.find((r) => r.method === filled.method && fits(r.path, pathname) && goodSample(r));
  const sample = found && goodSample(found);
  return sample ? replyOf(sample) : { failed: { sort: 'refused', words: NONE } };
}

/** Does a path end as a template says, whatever is in its places? */
function fits(template: string, path: string): boolean {
  const parts = template.split('?')[0]!.split(/\{[^}]*\}/);
  const pattern = parts.map((p) => p.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')).join('[^/]*');
  return new RegExp(`${pattern}$`).test(path);
}

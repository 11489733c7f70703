import { AppSchema, type App, type Screen, type Step } from '../core/app/schema.ts';
import { thisId } from '../core/document/ids.ts';
import type { AnyElement } from '../core/document/meaning.ts';
import { noConditions } from '../core/document/queries.ts';
import { walkElements, walkSteps } from '../core/document/walk.ts';
import { make, routine } from '../core/runs/fixture.ts';

const tableOf = (app: App, name: string) => app.tables.find((t) => t.name === name)!;
const fieldOf = (app: App, table: string, name: string): string =>
  tableOf(app, table).fields.find((f) => f.name === name)!.id;

/** Changes steps of a routine. */
const inRoutine = (app: App, name: string, change: (s: Step) => void): void =>
  walkSteps(app.routines.find((r) => r.name === name)!.steps, change);

/** Two routines that start one another without end: each changes what the other waits for. */
function endlessPair(app: App): void {
  const keepers = tableOf(app, 'Keepers').id;
  const turn = (name: string, reads: string, sets: string) =>
    routine(
      name,
      'record changed',
      { table: keepers, how: 'either', fields: [fieldOf(app, 'Keepers', reads)] },
      [
        make.step('set', {
          record: thisId(keepers),
          values: [
            {
              field: fieldOf(app, 'Keepers', sets),
              value: `string(${thisId(keepers)}.${fieldOf(app, 'Keepers', reads)}) + "."`,
            },
          ],
        }),
      ],
      { given: keepers },
    );
  app.routines.push(turn('To and fro', 'Name', 'Phone'), turn('Fro and to', 'Phone', 'Name'));
}

/** A picture is described, and nothing is done where there is none. */
function unansweredFailure(app: App): void {
  inRoutine(app, 'What is on the photo?', (s) => {
    if (s.do !== 'describe') return;
    delete s.ifFails;
    delete s.reason;
  });
}

/** A field of visits must be filled in, and no form lets anybody. */
function deadEnd(app: App): void {
  const visits = tableOf(app, 'Visits');
  visits.fields.push({ id: 'f_seenby0000', name: 'Seen by', type: 'text', required: true });
  const into = (s: Screen, n: number): void =>
    walkElements<AnyElement>([s.root], (e) => {
      const { table, children } = e as AnyElement & { table?: string; children?: object[] };
      if (e.kind === 'form' && table === visits.id)
        children!.unshift({ id: `e_seenby000${n}`, kind: 'input', field: 'f_seenby0000', locked: 'true' });
    });
  app.screens.forEach(into);
}

/** What comes into the store is set, not added: of two at the same time one is lost. */
function lostUpdate(app: App): void {
  const quantity = fieldOf(app, 'Stock', 'Quantity');
  inRoutine(app, 'Put into the store', (s) => {
    if (s.do !== 'raise') return;
    const { record } = s;
    const values = s.values.map((v) => ({ ...v, value: `${record}.${quantity} + ${v.value}` }));
    delete (s as Partial<typeof s>).how;
    Object.assign(s, { do: 'set', values });
  });
}

/** Whoever has signed in may change all keepers, and with that who is a coordinator. */
function leakingRule(app: App): void {
  const all = noConditions();
  const isCoordinator = { left: fieldOf(app, 'Keepers', 'Role'), op: 'is' as const, right: '"Coordinator"' };
  app.people = tableOf(app, 'Keepers').id;
  app.access = {
    opens: 'people',
    mail: fieldOf(app, 'Keepers', 'Mail'),
    roles: [{ id: 'r_coord00000', name: 'Coordinators', where: { match: 'all', conditions: [isCoordinator] } }],
    rules: app.tables.map(({ id }, i) => ({
      id: `u_all${String(i).padStart(7, '0')}`,
      who: 'signed in',
      may: ['see', 'add', 'change', 'remove'],
      table: id,
      where: all,
    })),
  };
}

/** A copy of the demo with five faults of makers. */
export function withFiveFaults(demo: App): App {
  const app = structuredClone(demo);
  for (const plants of [endlessPair, unansweredFailure, deadEnd, lostUpdate, leakingRule]) plants(app);
  return AppSchema.parse(app);
}

import type { Cell } from '../fields/lists.ts';
import { F, T } from '../records/fixture.ts';
import type { RecordState } from '../records/change.ts';
import { Row } from '../records/row.ts';
import type { Records } from '../records/store.ts';
import { openToLinkHolders, type Access, type AccessTo } from './access.ts';

/** Rights may be others whenever they are asked for. */
const everAnother = (): (() => number) => {
  let n = 0;
  return () => ++n;
};

/** For tests: the open access with some of it otherwise. What says anything of reading is no longer open. */
export const accessWith =
  (more: Partial<Access>): AccessTo =>
  (records, app) => ({
    ...openToLinkHolders(records, app),
    // Rules that are not known may read anything.
    touched: () => null,
    rightsAt: everAnother(),
    rights: (who) => who.kind,
    isOpen: !more.mayRead && !more.mayReadField,
    ...more,
  });

/**
 * For tests: rules over records, fields, links and people that change. Keepers who live nearby see everything; others see
 * their own hives and those that are active, with the visits to them; nobody in particular sees active hives. The weight
 * of a hive and the mail of a keeper are for those whose they are, and for keepers who live nearby.
 */
export const keepersRules: AccessTo = (records: Records): Access => {
  const cell = (table: string, id: string, field: string): Cell => records.row(table, id)?.cells[field] ?? null;
  const isNear = (person: string): boolean => cell(T.keepers, person, F.nearby) === true;
  const seesHive = (rights: string, hive: { id: string; cells: Record<string, Cell | undefined> }): boolean =>
    hive.cells[F.status] === 'Active' || hive.cells[F.keeper] === rights;
  return {
    isOpen: false,
    rights: ({ kind, person }) =>
      kind === 'owner'
        ? 'all'
        : person === null || !records.row(T.keepers, person)
          ? 'nobody'
          : isNear(person)
            ? 'all'
            : person,
    mayRead(rights, s: RecordState) {
      if (rights === 'all') return true;
      if (s.table === T.hives) return seesHive(rights, s);
      if (rights === 'nobody') return false;
      if (s.table === T.keepers) return true;
      const hive = records.row(T.visits, s.id)?.get(F.hive);
      return hive instanceof Row && seesHive(rights, { id: hive.id, cells: hive.cells });
    },
    mayReadField(rights, s, field) {
      if (rights === 'all') return true;
      if (field === F.weight) return s.cells[F.keeper] === rights;
      return field !== F.mail || s.id === rights;
    },
    forPhones: () => null,
    personOf: (who) => who.person,
    looksBack: () => null,
    touched: () => null,
    rightsAt: everAnother(),
    told: () => [],
    allTold: new Map(),
    refusal(who, change) {
      const rights = this.rights(who);
      if (rights === 'all') return null;
      if (rights === 'nobody') return 'Say who you are first.';
      if (change.table === T.keepers) return 'Only keepers who live nearby change keepers.';
      if (change.table === T.visits) return null;
      const hive = records.row(T.hives, change.record);
      if (hive) return hive.cells[F.keeper] === rights ? null : 'This hive is not yours.';
      return change.do === 'set' && change.cells[F.keeper] === rights ? null : 'A new hive must be yours.';
    },
  };
};

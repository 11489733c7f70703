import type { PhoneStore, WholeStore } from '../core/phone/keeps.ts';

/** What a device keeps of one app, wherever it keeps it. */
export type Keeper = PhoneStore & WholeStore;

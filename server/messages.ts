import { z } from 'zod';
import { ChangeSchema } from '../core/records/change.ts';
import { Subscription } from '../core/released/web-push.ts';
import { MOST_TOGETHER } from '../core/document/limits.ts';

/** What the server accepts. Sizes are bounded here and by the body limits of each route. */
export const PushMessage = z.object({ changes: z.array(ChangeSchema).max(MOST_TOGETHER) });
/** What a device has, to be compared with what it may have. */
export const HaveMessage = z.object({
  after: z.string().max(60).nullable(),
  upTo: z.string().max(60).nullable(),
  records: z.array(z.tuple([z.string().max(60), z.string().max(40)])).max(10_000),
});
export const ReleaseMessage = z.object({
  app: z.unknown(),
  icons: z.object({ 192: z.string().max(300_000), 512: z.string().max(1_000_000) }).nullable(),
});
const TableId = z.string().regex(/^[a-z]_[a-z0-9]{6,24}$/);
/** What runs of an app that are under way go on with after a release: its routines, or those that they go by now. */
export const RunsAfter = z.enum(['newest', 'as-begun']);
export type RunsAfter = z.infer<typeof RunsAfter>;

export const MirrorParams = z.object({ name: z.string(), table: TableId });
export const MirrorMessage = z.object({
  file: z.string().min(1).max(200),
  sheet: z.string().max(200).nullable(),
  first: z.enum(['file', 'app']),
  create: z.boolean(),
});
export const SettleMessage = z.discriminatedUnion('about', [
  z.object({ about: z.literal('conflict'), id: z.string().max(60), take: z.enum(['other', 'leave']) }),
  z.object({ about: z.literal('rows'), take: z.enum(['remove', 'write again']) }),
  z.object({ about: z.literal('name') }),
  z.object({ about: z.literal('now') }),
  z.object({ about: z.literal('unsure'), record: z.string().max(60) }),
]);
/** What is wanted of a run on the host, or of all runs of a routine (all of the app, where it is empty). */
export const RunWishMessage = z.discriminatedUnion('do', [
  z.object({ do: z.enum(['run again', 'end']), id: z.string().max(60) }),
  z.object({ do: z.enum(['pause', 'go on']), routine: z.string().max(30) }),
]);
/** A phone that is told what is for whoever uses it while the app is closed. */
export const SubscribeMessage = z.object({
  subscription: Subscription,
  /** Who says so, where nobody signs in; and the secret of the device. */
  person: z.string().max(254).default(''),
  device: z.string().min(1).max(100),
});
export type SubscribeMessage = z.infer<typeof SubscribeMessage>;
export const UnsubscribeMessage = Subscription.pick({ endpoint: true });
export type RunWish = z.infer<typeof RunWishMessage>;
export type Settlement = z.infer<typeof SettleMessage>;

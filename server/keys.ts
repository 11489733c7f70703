import { createHash, timingSafeEqual } from 'node:crypto';
import { Refused } from '../core/document/refused.ts';
import type { Release } from './store.ts';

/** What is kept of a key: its SHA-256 in hex. */
export const hashOfKey = (key: string): string => createHash('sha256').update(key).digest('hex');

/** Is this the key of a release? Takes as long whatever the key is. */
export const isKeyOf = (release: Release, key: string): boolean =>
  timingSafeEqual(Buffer.from(hashOfKey(key), 'hex'), Buffer.from(release.keyHash, 'hex'));

/** A key as it is brought. Throws a {@link Refused} when there is none. */
export function keyIn(key: string | undefined): string {
  if (key === undefined || key.length < 20 || key.length > 100)
    throw new Refused(401, 'The app’s owner key is missing.');
  return key;
}

import { filesOf } from './file-uses.ts';
import { units } from './protocol.ts';
import type { Change } from '../records/change.ts';
import { NeverTakenError, OfflineError, type DeviceStore, type HostLink, type Sending } from './link.ts';

/** The changes that name one of these files, with what belongs together with them. */
export const unitsWithFiles = (changes: readonly Change[], hashes: ReadonlySet<string>): Change[][] =>
  units(changes).filter((u) => u.some((c) => filesOf(c).some((f) => hashes.has(f.hash))));

/**
 * Sends those files of changes that the host wants. Gives what can never be sent: which changes hold such a file, and
 * why it stays here; and the hashes of those that are not taken now, with why they wait.
 */
export async function sendFiles(
  link: HostLink,
  store: DeviceStore,
  changes: readonly Change[],
  wanted: ReadonlySet<string>,
  tell: (sending: Sending) => void,
): Promise<{ never: { holds(c: Change): boolean; why: string }[]; later: Map<string, string> }> {
  const later = new Map<string, string>();
  const never: { holds(c: Change): boolean; why: string }[] = [];
  const all = changes.flatMap(filesOf);
  const list = [...wanted].flatMap((hash) => all.find((f) => f.hash === hash) ?? []);
  for (const [i, file] of list.entries()) {
    const name = file.name || 'a picture or file';
    const heard = (sent: number): void => tell({ name, sent, of: file.size, more: list.length - i - 1 });
    try {
      const content = await store.file?.(file.hash);
      if (!content || !link.sendFile) throw new NeverTakenError(`“${name}” is not on this device any more.`);
      heard(0);
      await link.sendFile(file, content, heard);
    } catch (e) {
      if (e instanceof OfflineError) throw e;
      // The host has no room for it now, or takes no more at once: it waits, and the others go on.
      if (!(e instanceof NeverTakenError)) {
        later.set(file.hash, `“${name}” waits on this device: ${(e as Error).message}`);
        continue;
      }
      never.push({ holds: (c) => filesOf(c).some((f) => f.hash === file.hash), why: e.message });
    }
  }
  return { never, later };
}

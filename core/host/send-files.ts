import { type KeptFile } from '../fields/kept-address.ts';
import { keptIn } from '../fields/kept-file.ts';
import type { Change } from '../records/change.ts';
import { NeverTakenError, type DeviceStore, type HostLink, type Sending } from './link.ts';

const filesOf = (c: Change): KeptFile[] => (c.do === 'remove' ? [] : keptIn(c.cells ?? {}));

/**
 * Sends those files of changes that the host wants. Gives what can never be sent: which changes hold such a file, and
 * why it stays here.
 */
export async function sendFiles(
  link: HostLink,
  store: DeviceStore,
  changes: readonly Change[],
  wanted: ReadonlySet<string>,
  tell: (sending: Sending) => void,
): Promise<{ holds(c: Change): boolean; why: string }[]> {
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
      if (!(e instanceof NeverTakenError)) throw e;
      never.push({ holds: (c) => filesOf(c).some((f) => f.hash === file.hash), why: e.message });
    }
  }
  return never;
}

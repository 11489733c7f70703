import { base64Of } from '../document/base64.ts';
import { MOST_MAIL_BYTES } from '../document/limits.ts';
import { fileName, fileType } from '../fields/kept-address.ts';
import type { App } from '../app/schema.ts';
import type { Ask } from '../routines/asks.ts';
import type { OutgoingFile } from './effects.ts';
import { ownContent } from './own-files.ts';
import type { SessionPorts } from './ports.ts';

/** Sends out what a routine sends to people, with its files. Rejects in words. */
export async function sendOut(
  app: App,
  ports: Pick<SessionPorts, 'send' | 'file'>,
  { ask: _send, files = [], ...message }: Extract<Ask, { ask: 'send' }>,
): Promise<void> {
  const contents = files.map((f) => ownContent(app, f));
  await ports.send({ ...message, ...(files.length > 0 && { files: await filesToSend(contents, ports.file) }) });
}

/** Endings of files whose names have none. */
const ENDINGS: Record<string, string> = {
  'image/jpeg': 'jpg',
  'image/png': 'png',
  'image/svg+xml': 'svg',
  'image/webp': 'webp',
  'application/pdf': 'pdf',
  'text/csv': 'csv',
};

/** The files that go out with a mail, from their addresses. Rejects in words when one cannot be had or all are too large. */
async function filesToSend(
  addresses: readonly string[],
  read: (address: string) => Promise<Blob | null>,
): Promise<OutgoingFile[]> {
  const files: OutgoingFile[] = [];
  let bytes = 0;
  for (const address of addresses) {
    const type = fileType(address);
    if (!type) throw new Error('What is to go with the mail is no file.');
    const name = fileName(address);
    const inside = /^data:[^,]*;base64,(.*)$/s.exec(address)?.[1];
    let data = inside;
    if (data === undefined) {
      const content = await read(address);
      if (!content) throw new Error(`“${name}” is not here now, so it cannot go with the mail.`);
      data = base64Of(new Uint8Array(await content.arrayBuffer()));
    }
    bytes += data.length * 0.75;
    if (bytes > MOST_MAIL_BYTES)
      throw new Error(
        `The files of a mail may have ${MOST_MAIL_BYTES / 1_048_576} MB together; “${name}” is too much.`,
      );
    const ending = ENDINGS[type];
    files.push({ name: ending && !name.includes('.') ? `${name}.${ending}` : name, type, data });
  }
  return files;
}

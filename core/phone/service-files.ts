import { requestIn, type Asking } from '../services/answer-type.ts';
import type { AskedMessage, ServiceAnswer } from '../services/answer.ts';
import { contentAddress, contentOf, isContent, MOST_SENT_BYTES } from '../services/parts.ts';
import { FILES } from '../services/schema.ts';
import { readKeptAddress } from '../fields/kept-address.ts';
import type { Files } from './files.ts';

/** A message with the content of the files that its inputs name. Rejects in words where one is not here, or is too large. */
export async function withFiles(app: Asking, message: AskedMessage, files: Pick<Files, 'read'>): Promise<AskedMessage> {
  const takes = requestIn(app, message.request)?.inputs ?? [];
  const found: Record<string, string> = {};
  let bytes = 0;
  for (const i of takes) {
    const cell = message.inputs[i.id];
    if (FILES.has(i.type) && typeof cell === 'string' && isContent(cell)) {
      bytes += contentOf(cell).length;
      found[i.id] = cell;
    }
    const file = FILES.has(i.type) ? readKeptAddress(cell) : null;
    bytes += file?.size ?? 0;
    if (bytes > MOST_SENT_BYTES)
      throw new Error(`Files of up to ${MOST_SENT_BYTES / 1_000_000} MB can be sent to a service at once.`);
    if (!file) continue;
    const content = await files.read(String(cell));
    if (!content) throw new Error(`${file.name ? `“${file.name}”` : 'The file'} is not on this phone yet.`);
    found[i.id] = contentAddress(new Uint8Array(await content.arrayBuffer()), file.type, file.name);
  }
  if (Object.keys(found).length === 0) return message;
  const inputs = Object.fromEntries(Object.entries(message.inputs).filter(([id]) => !(id in found)));
  return { ...message, inputs, files: found };
}

/** Keeps the files of an answer on this phone: its picks have their addresses then, as records hold them. */
export async function keepFiles(answer: ServiceAnswer, files: Pick<Files, 'keepAddress'>): Promise<void> {
  for (const [id, cell] of Object.entries(answer.picks))
    if (typeof cell === 'string' && isContent(cell)) answer.picks[id] = await files.keepAddress(cell);
}

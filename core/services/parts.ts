import { base64Of, fromBase64 } from '../document/base64.ts';
import { fileName, fileType } from '../fields/kept-address.ts';

/** A part of what is sent: a text, or a file as an address with its content (RFC 2397). */
export type FilledPart = { name: string; text: string } | { name: string; file: string };

/** So many bytes of files are sent with one request. */
export const MOST_SENT_BYTES = 8_000_000;

/** Is a text the address of a file with its content? */
export const isContent = (text: string): boolean => /^data:[^,]{0,500};base64,/i.test(text);

/** A file as an address with its content; `name` may be empty. */
export function contentAddress(content: Uint8Array, type: string, name: string): string {
  const media = /^[\w.+-]{1,60}\/[\w.+-]{1,80}$/.test(type) ? type.toLowerCase() : 'application/octet-stream';
  return `data:${media}${name ? `;name=${encodeURIComponent(name)}` : ''};base64,${base64Of(content)}`;
}

/** The bytes of a file that is an address with its content. */
export const contentOf = (address: string): Uint8Array => fromBase64(address.slice(address.indexOf(',') + 1));

/**
 * Parts as the body of a request (RFC 7578), with the type that says where they end. Lines of texts end with CR LF, as in
 * every form.
 */
export async function partsBody(parts: readonly FilledPart[]): Promise<{ body: Uint8Array; type: string }> {
  const form = new FormData();
  for (const part of parts) {
    if ('text' in part) form.append(part.name, part.text);
    else {
      const type = fileType(part.file) ?? 'application/octet-stream';
      form.append(part.name, new Blob([contentOf(part.file) as BlobPart], { type }), nameWithEnding(part.file, type));
    }
  }
  const made = new Response(form);
  return { body: new Uint8Array(await made.arrayBuffer()), type: made.headers.get('content-type')! };
}

/** Many services go by the ending of a name. */
function nameWithEnding(address: string, type: string): string {
  const name = fileName(address);
  if (name.includes('.')) return name;
  const ending = type.split('/')[1]!.replace(/\+.*/, '').replace('jpeg', 'jpg');
  return ending === 'octet-stream' ? name : `${name}.${ending}`;
}

/** The name of a file that an answer brings: as its header says (RFC 6266), or as its address ends; empty for none. */
export function nameOfAnswer(headers: readonly (readonly [string, string])[], url: string): string {
  const said = headers.find(([name]) => name.toLowerCase() === 'content-disposition')?.[1] ?? '';
  const extended = /filename\*\s*=\s*utf-8'[^']*'([^;\s]+)/i.exec(said)?.[1];
  const plain = /filename\s*=\s*(?:"((?:[^"\\]|\\.)*)"|([^;\s]+))/i.exec(said);
  const last = /\/([^/?#]+\.[A-Za-z0-9]{1,8})(?:[?#]|$)/.exec(url.replace(/^https?:\/\/[^/]*/, ''))?.[1];
  return bare(decoded(extended) ?? plain?.[1]?.replace(/\\(.)/g, '$1') ?? plain?.[2] ?? decoded(last) ?? '');
}

/** A name leads to no other folder and holds nothing that is not seen. */
const bare = (name: string): string =>
  name
    .replace(/^.*[/\\]/, '')
    .replace(/\p{C}/gu, '')
    .trim()
    .slice(0, 200);

function decoded(text: string | undefined): string | undefined {
  if (text === undefined) return undefined;
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}

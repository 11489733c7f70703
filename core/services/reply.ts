import { asJson, dataKind } from './data-reply.ts';
import { exactJson } from './exact-json.ts';

/** What a service answered, read. */
export type Read =
  { is: 'json'; value: unknown } | { is: 'text'; text: string } | { is: 'file'; type: string; content: Uint8Array };

/** Reads an answer by what its media type says, and where that says nothing, by what it is. Never throws. */
export function readReply(contentType: string, body: Uint8Array): Read {
  const type = contentType.split(';')[0]!.trim().toLowerCase();
  const charset = /charset="?([\w.:-]+)/i.exec(contentType)?.[1] ?? 'utf-8';
  const isBinary = /^(image|audio|video|font)\//.test(type) || /^application\/(pdf|zip|octet-stream|x-)/.test(type);
  if (isBinary) return { is: 'file', type, content: body };
  const text = decoded(body, charset);
  if (/[/+]json$/.test(type) || /^\s*[[{]/.test(text.slice(0, 200))) {
    try {
      return { is: 'json', value: exactJson(text) };
    } catch {
      // It stays text, and whoever asked sees what came.
    }
  }
  const kind = dataKind(type, text);
  const value = kind && asJson(kind, text);
  if (value) return { is: 'json', value };
  return { is: 'text', text };
}

function decoded(body: Uint8Array, charset: string): string {
  try {
    return new TextDecoder(charset).decode(body);
  } catch {
    return new TextDecoder().decode(body);
  }
}

/** What a status says to whoever asked, with what to do; null for one that says that it went well. */
export function statusSaid(status: number, headers: readonly (readonly [string, string])[] = []): string | null {
  if (status < 400) return null;
  const retry = headers.find(([name]) => name.toLowerCase() === 'retry-after')?.[1];
  const wait = retry && /^\d+$/.test(retry) ? ` Try again in ${retry} seconds.` : ' Try again later.';
  switch (status) {
    case 400:
    case 422:
      return 'The service refuses what was sent. Its answer may say which part.';
    case 401:
      return 'The service wants to know who asks: the key or token is missing, wrong or has expired.';
    case 403:
      return 'Whoever signs may not do that at the service.';
    case 404:
    case 410:
      return 'The service has nothing at this address. Look at its path and what is filled in there.';
    case 405:
      return 'The service does not take this method at this address.';
    case 409:
    case 412:
      return 'It was changed at the service meanwhile. Fetch it anew and try again.';
    case 413:
      return 'What was sent is too large for the service.';
    case 415:
      return 'The service does not take a body of this type.';
    case 429:
      return `The service is asked too often.${wait}`;
    default:
      return status >= 500
        ? `Something went wrong at the service (${status}).${wait}`
        : `The service refuses (${status}).`;
  }
}

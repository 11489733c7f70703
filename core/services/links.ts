/** The address that the `Link` headers of an answer give for a relation (RFC 8288); null where they give none. */
export function linkTo(headers: readonly (readonly [string, string])[], relation: string): string | null {
  for (const [name, value] of headers) {
    if (name.toLowerCase() !== 'link') continue;
    for (const [, address, params] of value.matchAll(/<([^>]*)>((?:\s*;\s*[\w*-]+\s*=\s*(?:"[^"]*"|[^\s";,]*))*)/g)) {
      const all = [...params!.matchAll(/;\s*([\w*-]+)\s*=\s*(?:"([^"]*)"|([^\s";,]*))/g)];
      const rel = all.find(([, param]) => param!.toLowerCase() === 'rel');
      if ((rel?.[2] ?? rel?.[3] ?? '').toLowerCase().split(/\s+/).includes(relation)) return address!;
    }
  }
  return null;
}

/** A text that is an address, in part or whole; null for anything else. */
export const addressIn = (value: unknown): string | null =>
  typeof value === 'string' && value !== '' && value.length <= 4000 ? value : null;

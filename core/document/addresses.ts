/** What the addresses of apps end in, where their server has no name of its own for mails. */
export const MAIL_DOMAIN = 'mellow-kite.example';

const ADDRESS = /^[^\s@<>,;:"()[\]\\]{1,64}@[^\s@<>,;:"()[\]\\]+$/;
/** The part before the @ in the letters that every mail server takes (RFC 5321), and nothing unseen behind it. */
const SENT = /^[!-~]+@[^\p{C}\p{Z}]+$/u;

/** A mail address as it is sent: a domain with letters beyond ASCII in its ASCII form (RFC 3492); null for what is none. */
export function sentAddress(address: string): string | null {
  if (!ADDRESS.test(address) || !SENT.test(address) || address.length > 254) return null;
  const [name, domain] = address.split('@') as [string, string];
  if (/^[!-~]+$/.test(domain)) return address;
  try {
    const sent = `${name}@${new URL(`http://${domain}`).hostname}`;
    return sent.length <= 254 ? sent : null;
  } catch {
    return null;
  }
}

/** True for one plain mail address (RFC 5321: 254 characters at most) that any mail server takes. */
export const isMailAddress = (s: string): boolean => sentAddress(s) !== null;

/** The domain in a text that says one (`heatherfield.example`, `@…`), as it is sent and compared; null where there is none. */
export function domainIn(text: string): string | null {
  const domain = sentAddress(`a@${text.trim().replace(/^@/, '').toLowerCase()}`)
    ?.slice(2)
    .toLowerCase();
  return domain && /^(?:[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?\.)+[a-z0-9-]{2,63}$/.test(domain) ? domain : null;
}

/** The domain of a mail address, as it is compared; null where it is no address. */
export const domainOf = (mail: string): string | null =>
  isMailAddress(mail.trim()) ? domainIn(mail.slice(mail.lastIndexOf('@'))) : null;

/** An address as it is compared with others: in whatever case it was written. */
export const plainMail = (mail: string): string => mail.trim().toLowerCase();

/** Do two texts say the same mail address? An empty one is none. */
export const isSameMail = (a: unknown, b: unknown): boolean =>
  typeof a === 'string' && typeof b === 'string' && plainMail(a) !== '' && plainMail(a) === plainMail(b);

/** The addresses in a text that lists them with commas, semicolons or line ends. */
export const addressesIn = (text: string): string[] =>
  text
    .split(/[,;\n]/)
    .map((s) => s.trim())
    .filter(Boolean);

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

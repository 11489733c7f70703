import { drawingIn, drawsTooMuch } from '../core/fields/drawn-svg.ts';
import { readKeptAddress } from '../core/fields/kept-address.ts';
import type { PhoneApi } from '../core/phone/api.ts';

/** Kinds of content that a page shows. Anything else it only saves. */
const SHOWN = /^(image\/(?!svg)|audio\/|video\/)/;
/** An address that is let go may be asked for again at once, when a list is scrolled to and fro. */
const LINGER_MS = 20_000;

/** Addresses by which pages show kept files, each as long as somebody shows it. */
const open = new Map<string, { url: Promise<string | null>; users: number }>();

async function addressOf(api: Pick<PhoneApi, 'file'>, address: string): Promise<string | null> {
  const drawing = drawingIn(address);
  if (drawing !== null) return drawsTooMuch(drawing) ? null : address;
  if (!readKeptAddress(address)) return null;
  const content = await api.file(address);
  if (!content) return null;
  const { type } = readKeptAddress(address)!;
  // A drawing could run scripts if it were opened as a page of ours; as a data address it belongs to nobody.
  if (type === 'image/svg+xml')
    return drawsTooMuch(await content.text()) ? null : dataAddress(new Blob([content], { type }));
  return URL.createObjectURL(new Blob([content], { type: SHOWN.test(type) ? type : 'application/octet-stream' }));
}

const dataAddress = (content: Blob): Promise<string> =>
  new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.addEventListener('load', () => resolve(String(reader.result)));
    reader.addEventListener('error', () => reject(new Error('The file cannot be read.')));
    reader.readAsDataURL(content);
  });

/** The address by which a page shows a kept file or a drawing; null when it cannot be had, or is too much to draw. Whoever takes it lets it go. */
export function take(api: Pick<PhoneApi, 'file'>, address: string): Promise<string | null> {
  const known = open.get(address);
  if (known) {
    known.users++;
    return known.url;
  }
  const url = addressOf(api, address).catch(() => null);
  open.set(address, { url, users: 1 });
  // What could not be had is asked for anew the next time.
  void url.then((had) => !had && open.delete(address));
  return url;
}

export function letGo(address: string): void {
  setTimeout(() => {
    const known = open.get(address);
    if (!known || --known.users > 0) return;
    open.delete(address);
    void known.url.then((url) => url?.startsWith('blob:') && URL.revokeObjectURL(url));
  }, LINGER_MS);
}

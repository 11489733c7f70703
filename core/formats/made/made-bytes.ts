import { base64Of, fromBase64 } from '../../document/base64.ts';
import type { MadeFile } from '../../routines/made.ts';

/** The content of a file, its media type with it. */
export interface Made {
  bytes: Uint8Array<ArrayBuffer>;
  type: string;
}

/** What a file looks up while it is made: the content behind the address of a picture. Rejects when it cannot be had. */
export type PictureAt = (address: string) => Promise<{ bytes: Uint8Array; type: string }>;

const text = (words: string): Uint8Array<ArrayBuffer> => new TextEncoder().encode(words) as Uint8Array<ArrayBuffer>;

/**
 * The bytes of a file that a routine makes. What writes each kind is fetched when it is used. Rejects in words when it
 * cannot be made.
 */
export async function madeBytes(file: MadeFile, pictureAt: PictureAt): Promise<Made> {
  switch (file.is) {
    case 'csv': {
      const { default: Papa } = await import('papaparse');
      const lines = Papa.unparse(file.lines, { newline: '\r\n' });
      // With a byte order mark, so that spreadsheet programs read it as UTF-8.
      return { bytes: text(`\uFEFF${lines}\r\n`), type: 'text/csv' };
    }
    case 'calendar': {
      const { calendarText } = await import('./calendar.ts');
      return { bytes: text(calendarText(file.events)), type: 'text/calendar' };
    }
    case 'contacts': {
      const { contactsText } = await import('./contacts.ts');
      return { bytes: text(contactsText(file.contacts)), type: 'text/vcard' };
    }
    case 'pdf': {
      const { pdfBytes } = await import('./pdf.ts');
      const picture = file.page.picture ? printable(await pictureAt(file.page.picture)) : null;
      return { bytes: (await pdfBytes(file.page, picture)) as Uint8Array<ArrayBuffer>, type: 'application/pdf' };
    }
    case 'qr': {
      const { default: QRCode } = await import('qrcode');
      const address = await QRCode.toDataURL(file.words, { errorCorrectionLevel: 'M', margin: 4, scale: 10 });
      return { bytes: fromBase64(address.split(',')[1]!) as Uint8Array<ArrayBuffer>, type: 'image/png' };
    }
  }
}

function printable({ bytes, type }: { bytes: Uint8Array; type: string }): { data: string } | { svg: string } {
  if (type === 'image/svg+xml') return { svg: new TextDecoder().decode(bytes) };
  if (type !== 'image/png' && type !== 'image/jpeg')
    throw new Error('The picture of the PDF has to be a PNG, a JPEG or a drawing (SVG).');
  return { data: `data:${type};base64,${base64Of(bytes)}` };
}

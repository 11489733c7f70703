import { MAX_FILE_CELL } from '../core/fields/kind.ts';

/** A file as a data address with its name in it (RFC 2397). Throws when it is too large to keep in a record. */
export async function fileAddress(file: File): Promise<string> {
  const tooLarge = `“${file.name}” has ${(file.size / 1_048_576).toFixed(1)} MB; up to 1 MB is kept in a record. Choose a smaller one.`;
  if (file.size > MAX_FILE_CELL * 0.7) throw new Error(tooLarge);
  const base64 = base64Of(new Uint8Array(await file.arrayBuffer()));
  const type = (file.type || 'application/octet-stream').split(';')[0];
  const address = `data:${type};name=${encodeURIComponent(file.name)};base64,${base64}`;
  if (address.length > MAX_FILE_CELL) throw new Error(tooLarge);
  return address;
}

/** Bytes in base 64. */
export function base64Of(bytes: Uint8Array): string {
  let binary = '';
  // In parts: a call takes only so many arguments.
  for (let i = 0; i < bytes.length; i += 32_768) binary += String.fromCharCode(...bytes.subarray(i, i + 32_768));
  return btoa(binary);
}

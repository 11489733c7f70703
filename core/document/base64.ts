/** Bytes in base 64. */
export function base64Of(bytes: Uint8Array): string {
  let binary = '';
  // In parts: a call takes only so many arguments.
  for (let i = 0; i < bytes.length; i += 32_768) binary += String.fromCharCode(...bytes.subarray(i, i + 32_768));
  return btoa(binary);
}

/** The bytes of a text in base 64. Throws when it is none. */
export const fromBase64 = (text: string): Uint8Array => Uint8Array.from(atob(text), (c) => c.charCodeAt(0));

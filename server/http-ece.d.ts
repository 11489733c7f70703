/** Only what decrypts a message as browsers do (RFC 8188). */
declare module 'http_ece' {
  import type { ECDH } from 'node:crypto';
  export function decrypt(
    content: Buffer,
    keys: { version: 'aes128gcm'; privateKey: ECDH; authSecret: string },
  ): Buffer;
}

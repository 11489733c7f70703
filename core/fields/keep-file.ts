import { sha256 } from '@noble/hashes/sha2.js';
import type { KeptFile } from './kept-address.ts';

/**
 * What a file is kept as, by its content. Not the browser's own hash: that is only there on pages that came by https,
 * and apps are tried in local networks too.
 */
export const keptFile = (content: Uint8Array, type: string, name: string): KeptFile => ({
  hash: hashOf(content),
  type: /^[\w.+-]{1,60}\/[\w.+-]{1,80}$/.test(type) ? type.toLowerCase() : 'application/octet-stream',
  size: content.length,
  name,
});

/** SHA-256 in base 64 for addresses, without padding. */
export function hashOf(content: Uint8Array): string {
  const binary = String.fromCharCode(...sha256(content));
  return btoa(binary).replace(/\+/g, '-').replace(/\//g, '_').replace(/=+$/, '');
}

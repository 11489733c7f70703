import type { ReleaseFacts } from './facts.ts';

/** More hosts are not listed one by one: the player itself keeps to those of the app. */
const MOST_HOSTS = 200;

/** The content policy of a page (CSP Level 3), as helmet takes it; `media` are sources of pictures and sounds elsewhere, `asks` are services. */
export function policy(media: string[], frames: string[], asks: string[] = []) {
  return {
    defaultSrc: ["'self'"],
    scriptSrc: ["'self'"],
    styleSrc: ["'self'", "'unsafe-inline'"],
    imgSrc: ["'self'", 'data:', 'blob:', ...media],
    mediaSrc: ["'self'", 'data:', 'blob:', ...media],
    fontSrc: ["'self'"],
    frameSrc: frames.length ? frames : ["'none'"],
    connectSrc: ["'self'", ...asks],
    workerSrc: ["'self'"],
    objectSrc: ["'none'"],
    baseUri: ["'none'"],
    formAction: ["'none'"],
    frameAncestors: ["'none'"],
    upgradeInsecureRequests: null,
  };
}

/**
 * The content policy of a released app: it asks pictures and sounds only of hosts that its maker named or allowed. A page
 * from elsewhere is shut in, and goes where its own links lead.
 */
export function policyOf({ hosts = [], asks = [], kinds }: ReleaseFacts): ReturnType<typeof policy> {
  const isHost = (h: string): boolean => /^[\w.:[\]-]+$/.test(h);
  const safe = hosts.filter(isHost);
  const media = safe.length > MOST_HOSTS ? ['https:', 'http:'] : safe;
  return policy(media, safe.length && kinds.includes('elements/page') ? ['https:'] : [], asks.filter(isHost));
}

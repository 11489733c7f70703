import ipaddr from 'ipaddr.js';

/** Why an address may not be asked, for the person who typed it. */
export class AddressRefused extends Error {
  override name = 'AddressRefused';
}

const GLOBAL_V6 = ipaddr.IPv6.parseCIDR('2000::/3');

/**
 * May a host on the internet have this address? Private, loopback, link-local and all other special addresses (IANA
 * registries of special-purpose addresses, RFC 6890) lead into the network of whoever runs this server. What is not
 * known to be public is not.
 */
export function isPublic(address: string): boolean {
  if (!ipaddr.isValid(address)) return false;
  // An IPv4 address in IPv6 clothes (RFC 4291, 2.5.5.2) is the IPv4 address.
  const ip = ipaddr.process(address);
  if (ip.range() !== 'unicast') return false;
  return ip.kind() === 'ipv4' || (ip as ipaddr.IPv6).match(GLOBAL_V6);
}

/** Hosts that the operator lets services be on although they are not public: a name or address, with a port or for all. */
export class NamedHosts {
  private readonly names: ReadonlySet<string>;

  /** Each as "printer.example", "10.0.0.7:8080" or "[fd00::7]:80". */
  constructor(names: readonly string[]) {
    this.names = new Set(names.map((n) => n.trim().toLowerCase()));
  }

  has(url: URL): boolean {
    const host = bareHost(url);
    const named = host.includes(':') ? `[${host}]` : host;
    const port = url.port || (url.protocol === 'https:' ? '443' : '80');
    return this.names.has(named) || this.names.has(`${named}:${port}`);
  }
}

/** The host of an address without brackets and without the dot that may end a name. */
export const bareHost = (url: URL): string => url.hostname.replace(/^\[|\]$/g, '').replace(/\.$/, '');

/**
 * Reads an address that is to be asked. Numbers in other forms (decimal, hexadecimal, octal, full-width digits) become
 * plain ones here (URL Living Standard, 3.5). Throws {@link AddressRefused} in words for what may not be asked.
 */
export function readOutsideAddress(text: string, named: NamedHosts): URL {
  let url: URL;
  try {
    url = new URL(text.trim());
  } catch {
    throw new AddressRefused(
      `“${text.trim().slice(0, 200)}” is no address. It begins with https:// and names a host, such as https://api.example.com/goods.`,
    );
  }
  if (url.protocol !== 'https:' && url.protocol !== 'http:')
    throw new AddressRefused(
      `Addresses that begin with “${url.protocol}” are not asked, only those with https: or http:.`,
    );
  if (url.username || url.password)
    throw new AddressRefused('A name or password stands in the address. Take it out and give it as the way to sign.');
  if (!bareHost(url)) throw new AddressRefused('The address names no host.');
  url.hash = '';
  checkHost(url, named);
  return url;
}

/** Throws for a host that is an address of no public network, or a name of this machine. */
function checkHost(url: URL, named: NamedHosts): void {
  if (named.has(url)) return;
  const host = bareHost(url);
  const isAddress = ipaddr.isValid(host);
  const isOurs = host === 'localhost' || host.endsWith('.localhost') || (!isAddress && !host.includes('.'));
  if (isAddress ? !isPublic(host) : isOurs) throw notPublic(host);
}

/** Checks the addresses that a name leads to: there must be some, and all must be public. Throws {@link AddressRefused}. */
export function checkPublic(host: string, addresses: readonly string[]): void {
  if (addresses.length === 0 || !addresses.every(isPublic)) throw notPublic(host);
}

const notPublic = (host: string): AddressRefused =>
  new AddressRefused(
    `“${host}” is in a private network, which this server asks nothing of. Whoever runs it can name the host with --outside.`,
  );

import ipaddr from 'ipaddr.js';

/**
 * Whether an IP address is reached over the public internet (IANA special-purpose registries, RFC
 * 6890).
 */
export function isPublicAddress(ip: string): boolean {
  if (!ipaddr.isValid(ip)) return false;
  // an IPv4 address written as IPv6 is that one
  const address = ipaddr.process(ip);
  if (address.range() !== 'unicast') return false;
  // IPv6 gives out 2000::/3 only (RFC 4291); other addresses lead to IPv4 in old forms
  return address.kind() === 'ipv4' || /^[23][\da-f]{3}:/i.test(address.toString());
}

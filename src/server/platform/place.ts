import ipaddr from 'ipaddr.js';
import { configuration } from './configuration';

/**
 * The network address of a request. Each proxy appends the address that called it
 * (`X-Forwarded-For`), so the entry of our first proxy counts; entries before it are only claims.
 * For IPv6 the first 64 bits, which belong to one household or phone.
 */
export function placeOf({ headers }: { headers: Headers }): string {
  const through = (headers.get('x-forwarded-for') ?? '')
    .split(',')
    .map((part) => part.trim())
    .filter((part) => part !== '');
  const proxies = configuration().HAND_STAMP_PROXIES ?? 1;
  const address = through.at(-Math.min(proxies, through.length)) ?? '';
  if (!ipaddr.isValid(address)) return address.slice(0, 60) || 'here';
  const parsed = ipaddr.process(address);
  return parsed instanceof ipaddr.IPv6
    ? `${parsed.parts
        .slice(0, 4)
        .map((part) => part.toString(16))
        .join(':')}::/64`
    : parsed.toString();
}

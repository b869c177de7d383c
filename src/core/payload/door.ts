/** Why an address would not open on a stranger's phone, as far as the address itself shows. */
export interface DoorTrouble {
  kind: 'no-scheme' | 'unreadable' | 'this-machine' | 'private' | 'reserved';
  message: string;
  mend: string;
}

const reservedNames = /(^|\.)(test|example|invalid|localhost)$|(^|\.)example\.(com|net|org)$/;
const privateNames = /(^|\.)(local|internal|lan|intranet|home\.arpa)$/;

/**
 * IPv4 networks that the internet does not reach (RFC 1918, 3927, 6598): first address and prefix
 * length.
 */
const privateNetworks: readonly (readonly [network: string, length: number])[] = [
  ['10.0.0.0', 8],
  ['172.16.0.0', 12],
  ['192.168.0.0', 16],
  ['169.254.0.0', 16],
  ['100.64.0.0', 10],
];

const number = (address: string): number =>
  address.split('.').reduce((sum, part) => sum * 256 + Number(part), 0);
const within = (address: string, [network, length]: readonly [string, number]): boolean =>
  Math.floor(number(address) / 2 ** (32 - length)) ===
  Math.floor(number(network) / 2 ** (32 - length));

/**
 * Checks an address without a network: its scheme, and whether its host is this computer, in a
 * private network, or a name reserved for tests and examples (RFC 2606, 6761, 8375). Undefined if
 * there is no problem.
 */
export function doorTrouble(address: string): DoorTrouble | undefined {
  if (!/^[a-z][a-z0-9+.-]*:/i.test(address))
    return {
      kind: 'no-scheme',
      message: 'has no https:// in front, so a phone reads it as text',
      mend: 'Put https:// in front.',
    };
  if (!/^https?:/i.test(address)) return undefined;
  let host: string;
  try {
    host = new URL(address).hostname.toLowerCase().replace(/\.$/, '');
  } catch {
    return {
      kind: 'unreadable',
      message: 'is not an address that can be opened',
      mend: 'Check for a missing name or a wrong character after the two slashes.',
    };
  }
  const machine = {
    kind: 'this-machine',
    message: 'leads to the phone itself, not to your server',
    mend: 'Use the name under which others reach the server.',
  } as const;
  const hidden = {
    kind: 'private',
    message: 'works only inside your own network',
    mend: 'Use a public name, or choose that codes are scanned on your own Wi-Fi.',
  } as const;
  const inBrackets = /^\[(.*)\]$/.exec(host)?.[1];
  if (inBrackets !== undefined) {
    if (inBrackets === '::1' || inBrackets === '::') return machine;
    return /^(f[cd]|fe[89ab])/.test(inBrackets) ? hidden : undefined;
  }
  if (/^\d+(\.\d+){3}$/.test(host)) {
    if (host.startsWith('127.') || host === '0.0.0.0') return machine;
    return privateNetworks.some((network) => within(host, network)) ? hidden : undefined;
  }
  if (host === 'localhost' || host.endsWith('.localhost')) return machine;
  if (reservedNames.test(host))
    return {
      kind: 'reserved',
      message: 'is a name for tests and examples, which no one can reach',
      mend: 'Use the real name before anything is printed.',
    };
  if (privateNames.test(host) || !host.includes('.')) return hidden;
  return undefined;
}

/** Host of an address, or the beginning of an invalid one. */
export function hostOf(address: string): string {
  try {
    return new URL(address).host || address.slice(0, 40);
  } catch {
    return address.slice(0, 40);
  }
}

/**
 * The answer of an address. `not-asked`: it is private, and requests to such addresses are not
 * allowed.
 */
export type DoorState =
  'opens' | 'redirected' | 'sign-in' | 'not-found' | 'fails' | 'no-answer' | 'not-asked';

export const doorStateWords: Record<DoorState, string> = {
  opens: 'open',
  redirected: 'lead elsewhere',
  'sign-in': 'ask for a sign-in',
  'not-found': 'are not found',
  fails: 'answer with an error',
  'no-answer': 'do not answer',
  'not-asked': 'are not public and were not checked',
};

import { EncodeError } from '../symbology/types';

/**
 * Characters that may be in an address as they are (RFC 3986: unreserved and reserved ones, and the
 * percent sign of a pair).
 */
const allowed = /[A-Za-z0-9\-._~:/?#[\]@!$&'()*+,;=%]/;

const allAllowed = /^[A-Za-z0-9\-._~:/?#[\]@!$&'()*+,;=]*$/;

const fault = (message: string, mend: string, position?: number): EncodeError =>
  new EncodeError('character', message, { mend, position });

/**
 * An address in the form to be sent: spaces and letters beyond ASCII encoded, in the host by its
 * own rules (RFC 3986, 3492). What is encoded already stays. A text without a scheme is returned as
 * it is.
 * @throws EncodeError for a percent sign that begins no pair, a control character, or an invalid
 *   host
 */
export function writtenAddress(text: string): string {
  const [scheme] = /^[a-z][a-z0-9+.-]*:/i.exec(text) ?? [];
  if (!scheme) return text;
  const [, slashes, host] = /^(\/\/)([^/?#]*)/.exec(text.slice(scheme.length)) ?? [];
  const before = scheme.length + (slashes ? 2 + host!.length : 0);
  return scheme + (slashes ? `//${writtenHost(host!)}` : '') + writtenRest(text, before);
}

function writtenHost(host: string): string {
  if (/\s/.test(host))
    throw fault(`The address has a space in its name, “${host}”.`, 'Remove the space.');
  if (/^[\x21-\x7e]*$/.test(host)) return host;
  const [, account = '', name, port = ''] = /^(.*@)?(.*?)(:\d+)?$/.exec(host) ?? [];
  try {
    return account + new URL(`https://${name}`).hostname + port;
  } catch {
    throw fault(
      `“${host}” is not a name that an address can have.`,
      'Check for a wrong character between the two slashes and the next one.',
    );
  }
}

function writtenRest(text: string, from: number): string {
  const rest = text.slice(from);
  // nearly all are written as they should be
  if (allAllowed.test(rest)) return rest;
  let out = '';
  for (let at = from; at < text.length;) {
    const sign = String.fromCodePoint(text.codePointAt(at)!);
    if (sign === '%' && !/^%[0-9a-f]{2}/i.test(text.slice(at)))
      throw fault(
        'The address has a % without two digits after it, and browsers read that differently.',
        'Write it as %25.',
        at,
      );
    if (/\p{Cc}|\p{Cs}/u.test(sign))
      throw fault('The address contains a character that is not allowed.', 'Remove it.', at);
    out += allowed.test(sign) ? sign : encodeURIComponent(sign);
    at += sign.length;
  }
  return out;
}

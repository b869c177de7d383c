import { trimmedEnd } from '../../base/trim';
import { EncodeError } from '../types';
import { identifiers } from './identifiers';
import { checkElements, type Gs1Element } from './elements';

/**
 * Keys that may begin a GS1 Digital Link, each with its qualifiers in the order in which they must
 * follow (GS1 Digital Link URI syntax).
 */
const keys: Readonly<Record<string, readonly string[]>> = {
  '00': [],
  '01': ['22', '10', '21', '235'],
  '253': [],
  '255': [],
  '401': [],
  '402': [],
  '414': ['254', '7040'],
  '417': ['7040'],
  '8003': [],
  '8004': ['7040'],
  '8006': ['22', '10', '21'],
  '8010': ['8011'],
  '8013': [],
  '8017': ['8019'],
  '8018': ['8019'],
};

/** Whether a payload is an address rather than an element string. */
export const isAddress = (text: string): boolean => /^https?:\/\//i.test(text);

/**
 * Writes elements as an uncompressed GS1 Digital Link on a base address: key and qualifiers in the
 * path, the rest in the query.
 */
export function digitalLink(elements: readonly Gs1Element[], base: string): string {
  const key = elements.find(({ ai }) => ai in keys);
  if (!key)
    throw new EncodeError('character', 'A GS1 Digital Link needs a key such as (01).', {
      mend: 'Add (01) with the product number.',
    });
  const qualifiers = keys[key.ai]!.map((ai) => elements.find((e) => e.ai === ai)).filter(
    (e) => e !== undefined,
  );
  const rest = elements.filter((e) => e !== key && !qualifiers.includes(e));
  const path = [key, ...qualifiers]
    .map(({ ai, value }) => `/${ai}/${encodeURIComponent(value)}`)
    .join('');
  const query = rest.map(({ ai, value }) => `${ai}=${encodeURIComponent(value)}`).join('&');
  return trimmedEnd(base, '/') + path + (query && `?${query}`);
}

/**
 * Reads the elements of a GS1 Digital Link and checks them like an element string.
 * @throws EncodeError if there is no key in the path, its qualifiers are out of order or a value is
 *   wrong
 */
export function parseDigitalLink(address: string): Gs1Element[] {
  const [, path, query = ''] = /^https?:\/\/[^/?#]+([^?#]*)(?:\?([^#]*))?/i.exec(address) ?? [];
  const parts = (path ?? '').split('/').filter((part) => part !== '');
  const start = parts.findIndex(
    (part, i) => part in keys && (parts.length - i) % 2 === 0 && i + 1 < parts.length,
  );
  if (start < 0)
    throw new EncodeError(
      'character',
      'This address holds no GS1 key, such as /01/ and a product number.',
      {
        position: address.length - query.length,
        mend: 'Write it as https://…/01/02000411000017.',
      },
    );
  const elements: (Gs1Element & { position: number })[] = [];
  const key = parts[start]!;
  const order = keys[key]!;
  let last = -1;
  for (let i = start; i < parts.length; i += 2) {
    const ai = parts[i]!;
    const position = address.indexOf(`/${ai}/`);
    if (i > start) {
      const place = order.indexOf(ai);
      if (place <= last)
        throw new EncodeError('character', `/${ai}/ may not stand here after /${key}/.`, {
          position,
          mend: order.length
            ? `After it come ${order.join(', ')}, in this order; the rest goes after a question mark.`
            : 'Put it after a question mark.',
        });
      last = place;
    }
    elements.push({ ai, value: decode(parts[i + 1]!, position), position });
  }
  for (const pair of query.split('&').filter(Boolean)) {
    const [name, value = ''] = pair.split('=');
    // query names that are not identifiers are allowed and do not describe the product
    if (identifiers.has(name!))
      elements.push({
        ai: name!,
        value: decode(value, address.indexOf(pair)),
        position: address.indexOf(pair),
      });
  }
  return checkElements(elements);
}

function decode(value: string, position: number): string {
  try {
    return decodeURIComponent(value);
  } catch {
    throw new EncodeError('character', `“${value}” is not percent-encoded correctly.`, {
      position,
      mend: 'Write a percent sign as %25.',
    });
  }
}

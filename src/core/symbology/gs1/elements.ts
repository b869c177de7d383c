import { EncodeError } from '../types';
import { checkDigitFits, gs1CheckDigit } from '../../base/check-digit';
import { identifierAt, identifiers, type Identifier, type Part } from './identifiers';

/** One element of a GS1 element string: an application identifier and its value. */
export interface Gs1Element {
  ai: string;
  value: string;
}

/** The separator in scanned data (ASCII group separator). */
export const separator = '\x1d';

const sets: Record<Part['set'], [RegExp, string]> = {
  N: [/\d/, 'digits'],
  X: [/[!-"%-?A-Z_a-z]/, 'letters, digits and the signs of GS1 character set 82'],
  Y: [/[#\-/0-9A-Z]/, 'capitals, digits, # - and /'],
  Z: [/[A-Za-z0-9\-_=]/, 'letters, digits, - _ and ='],
};

const fault = (kind: EncodeError['kind'], message: string, position: number, mend: string) =>
  new EncodeError(kind, message, { position, mend });

/**
 * Parses a GS1 element string: with its identifiers in brackets, `(01)02000411000017(10)AB`, or as
 * scanned, with group separators after elements of variable length. Identifiers, lengths, character
 * sets, check digits and dates are checked (GS1 General Specifications).
 * @throws EncodeError with the wrong element, its position in the text and its fix
 */
export function parseElements(text: string): Gs1Element[] {
  if (text === '')
    throw new EncodeError('empty', 'There is nothing to encode.', { mend: 'Give it a value.' });
  const elements = text.startsWith('(') ? parseBracketed(text) : parseScanned(text);
  checkTogether(elements);
  return elements;
}

/** Refuses elements that contradict or need each other. */
function checkTogether(elements: readonly Gs1Element[]): void {
  const first = new Map<string, string>();
  for (const { ai, value } of elements) {
    const before = first.get(ai);
    if (before !== undefined && before !== value)
      throw fault(
        'character',
        `(${ai}) is there twice with different values.`,
        0,
        'Keep one of the two.',
      );
    first.set(ai, value);
  }
  const has = (ai: string) => first.has(ai);
  if (has('02') && !has('37'))
    throw fault(
      'length',
      '(02) says what is inside and needs (37), how many there are.',
      0,
      'Add (37), or use (01).',
    );
  if (has('37') && !has('02') && !has('8026'))
    throw fault(
      'length',
      '(37) counts what (02) names, but there is no (02).',
      0,
      'Add (02), or use (30).',
    );
  if (has('01') && has('02'))
    throw fault(
      'character',
      '(01) and (02) do not go together.',
      0,
      'Use (01) for the thing itself.',
    );
}

/**
 * Checks elements from elsewhere, such as the path of an address; `position` is their place in it.
 */
export function checkElements(
  elements: readonly (Gs1Element & { position: number })[],
): Gs1Element[] {
  const checked = elements.map(({ ai, value, position }) => ({
    ai,
    value: checkValue(identifiers.get(ai)!, value, position),
  }));
  checkTogether(checked);
  return checked;
}

function parseBracketed(text: string): Gs1Element[] {
  const elements: Gs1Element[] = [];
  for (let at = 0; at < text.length;) {
    const head = /^\((\d{2,4})\)/.exec(text.slice(at));
    if (!head)
      throw fault(
        'character',
        `At place ${at + 1} an application identifier in brackets is missing.`,
        at,
        'Write it as (01), (10), (21) and so on.',
      );
    const identifier = identifiers.get(head[1]!);
    if (!identifier)
      throw fault(
        'character',
        `(${head[1]}) is not an application identifier of GS1.`,
        at,
        'Check the number in brackets.',
      );
    const from = at + head[0].length;
    // a bracket belongs to the value unless it encloses a known identifier
    let to = from;
    while (to < text.length) {
      const next = /^\((\d{2,4})\)/.exec(text.slice(to));
      if (next && identifiers.has(next[1]!)) break;
      to++;
    }
    elements.push({ ai: identifier.ai, value: checkValue(identifier, text.slice(from, to), from) });
    at = to;
  }
  return elements;
}

function parseScanned(text: string): Gs1Element[] {
  // the number alone could be read as another identifier and its value: 40… for an order number,
  // 02… for the content
  if (/^(\d{8}|\d{12,14})$/.test(text) && checkDigitFits(text))
    throw fault(
      'character',
      `${text} is a product number without its identifier.`,
      0,
      `Write it as (01)${text.padStart(14, '0')}.`,
    );
  const elements: Gs1Element[] = [];
  let at = text.startsWith(separator) ? 1 : 0;
  while (at < text.length) {
    const identifier = identifierAt(text, at);
    if (!identifier)
      throw fault(
        'character',
        `At place ${at + 1} there is no application identifier of GS1.`,
        at,
        'Begin each value with its identifier, as in (01)02000411000017(10)AB.',
      );
    const from = at + identifier.ai.length;
    const end = text.indexOf(separator, from);
    const until = end < 0 ? text.length : end;
    const to = identifier.fixed
      ? Math.min(until, from + identifier.parts.reduce((sum, p) => sum + p.most, 0))
      : until;
    elements.push({ ai: identifier.ai, value: checkValue(identifier, text.slice(from, to), from) });
    at = to;
    if (text[at] === separator) at++;
  }
  return elements;
}

/** The value of an element if it is in order; a missing check digit of a GTIN is worked out. */
function checkValue({ ai, parts, title }: Identifier, given: string, from: number): string {
  const name = `(${ai}) ${title}`;
  // a GTIN of 8, 12 or 13 digits is filled up to 14 with zeros, as the standard prescribes
  const value =
    parts[0]!.most === 14 &&
    parts[0]!.check &&
    parts.length === 1 &&
    /^(\d{8}|\d{12}|\d{13})$/.test(given)
      ? given.padStart(14, '0')
      : given;
  const least = parts.reduce((sum, p) => sum + p.least, 0);
  const most = parts.reduce((sum, p) => sum + p.most, 0);
  if (value.length < least || value.length > most) {
    const wanted = least === most ? `${most}` : `${least} to ${most}`;
    const over = value.length - most;
    throw fault(
      'length',
      `${name} has ${wanted} characters; this has ${value.length}.`,
      from,
      over > 0 ? `Shorten it by ${over}.` : `Pad it to ${least}.`,
    );
  }
  let at = 0;
  for (const part of parts) {
    const piece = value.slice(at, at + part.most);
    if (piece.length < part.least || (part.whole && piece.length > 0 && piece.length < part.most))
      throw fault(
        'length',
        `${name} is too short by ${(part.whole ? part.most : part.least) - piece.length}.`,
        from + at,
        'Pad it.',
      );
    const [allowed, what] = sets[part.set];
    for (let i = 0; i < piece.length; i++)
      if (!allowed.test(piece[i]!))
        throw fault(
          'character',
          `${name} holds ${what}; “${Array.from(piece.slice(i))[0]}” at place ${from + at + i + 1} is none.`,
          from + at + i,
          'Remove it.',
        );
    if (part.check && piece.length > 0) checkPart(part, piece, name, from + at);
    at += piece.length;
  }
  return value;
}

function checkPart(part: Part, piece: string, name: string, at: number): void {
  if (part.check === 'check') {
    const right = gs1CheckDigit(piece.slice(0, -1));
    if (piece.at(-1) !== right)
      throw fault(
        'check-digit',
        `The check digit of ${name} is ${piece.at(-1)}, but should be ${right}.`,
        at + piece.length - 1,
        `Correct it to ${right}.`,
      );
  } else if (part.check === 'date' || part.check === 'time') {
    const [month, day] = [Number(piece.slice(2, 4)), Number(piece.slice(4, 6))];
    const days = new Date(Date.UTC(2000 + Number(piece.slice(0, 2)), month, 0)).getUTCDate();
    if (month < 1 || month > 12)
      throw fault(
        'character',
        `${name} is a date as YYMMDD; month ${piece.slice(2, 4)} does not exist.`,
        at + 2,
        'Write year, month and day in two digits each.',
      );
    if (day > days || (day === 0 && part.check === 'time'))
      throw fault(
        'character',
        `${name} is a date as YYMMDD; day ${piece.slice(4, 6)} does not exist in it.`,
        at + 4,
        'Write year, month and day in two digits each.',
      );
    if (part.check === 'time' && Number(piece.slice(6, 8)) > 23 && piece.slice(6) !== '9999')
      throw fault(
        'character',
        `${name} ends with hour and minute; hour ${piece.slice(6, 8)} does not exist.`,
        at + 6,
        'Hours go from 00 to 23.',
      );
  } else if (part.check === 'flag') {
    if (piece > '1')
      throw fault('character', `${name} is 0 for no or 1 for yes.`, at, 'Write 0 or 1.');
  } else if (part.check === 'pair') {
    const right = checkPair(piece.slice(0, -2));
    if (piece.slice(-2) !== right)
      throw fault(
        'check-digit',
        `The check characters of ${name} are ${piece.slice(-2)}, but should be ${right}.`,
        at + piece.length - 2,
        `Correct them to ${right}.`,
      );
  }
}

const set82 = '!"%&\'()*+,-./0123456789:;<=>?ABCDEFGHIJKLMNOPQRSTUVWXYZ_abcdefghijklmnopqrstuvwxyz';
const set32 = '23456789ABCDEFGHJKLMNPQRSTUVWXYZ';
const primes = [
  2, 3, 5, 7, 11, 13, 17, 19, 23, 29, 31, 37, 41, 43, 47, 53, 59, 61, 67, 71, 73, 79, 83,
];

/**
 * Check character pair of a model number (GS1 General Specifications, alphanumeric check pair,
 * modulo 1021 over prime weights).
 */
export function checkPair(body: string): string {
  let sum = 0;
  for (let i = 0; i < body.length; i++)
    sum += set82.indexOf(body[i]!) * primes[body.length - 1 - i]!;
  const value = sum % 1021;
  return set32[value >> 5]! + set32[value & 31]!;
}

/**
 * Elements as they are encoded: identifiers and values one after the other, with separators after
 * variable lengths.
 */
export const elementString = (elements: readonly Gs1Element[]): string =>
  elements
    .map(
      ({ ai, value }, i) =>
        ai + value + (i < elements.length - 1 && !identifiers.get(ai)!.fixed ? separator : ''),
    )
    .join('');

/** Elements as they are printed under a symbol, identifiers in brackets. */
export const bracketed = (elements: readonly Gs1Element[]): string =>
  elements.map(({ ai, value }) => `(${ai})${value}`).join('');

import { hmac } from '@noble/hashes/hmac';
import { sha256 } from '@noble/hashes/sha2';
import { z } from 'zod';

/** Capitals and digits without those that look alike, 32 in all, so that a proof can also be typed. */
const alphabet = '0123456789ABCDEFGHJKMNPQRSTVWXYZ';

/**
 * A key as documents hold it: sealed, so that it lies open in no table and no answer; `new` where one is still to be made; or, where
 * nothing is kept (a code made by itself), in hexadecimal.
 */
export const proofKeySchema = z
  .string()
  .regex(/^(new|sealed:[A-Za-z0-9+/=]{40,400}|([0-9a-f]{2}){16,64})$/);

export const isSealedKey = (key: string): boolean => key.startsWith('sealed:');

let open: ((sealed: string) => string) | undefined;

/** Hands in what opens sealed keys, giving them in hexadecimal. Only a server has it. */
export const provideKeyOpener = (opener: (sealed: string) => string): void => void (open = opener);

/** Whether proofs can be made with a key here. */
export const canProve = (key: string): boolean =>
  key !== 'new' && (!isSealedKey(key) || open !== undefined);

/** The bytes of a key. @throws RangeError for one that cannot be opened here */
export function keyBytes(key: string): Uint8Array {
  if (!canProve(key)) throw new RangeError('This key cannot be opened here.');
  const hex = isSealedKey(key) ? open!(key) : key;
  return Uint8Array.from(hex.match(/../g) ?? [], (pair) => parseInt(pair, 16));
}

/** What stands for a proof, and is as long as one, where its key is not to be had. */
export const unknownProof = (): string => alphabet[0].repeat(proofLength);

/** Characters of a proof: 5 bits each, 80 in all, so that nobody finds one by trying. */
export const proofLength = 16;

/**
 * A proof that values come from whoever holds the key: HMAC-SHA-256 (RFC 2104) over the values, each with its length before it
 * so that none can run into the next, cut to 80 bits.
 * @param key at least 16 bytes
 */
export function proofOf(values: readonly string[], key: Uint8Array): string {
  if (key.length < 16) throw new RangeError('A key for proofs has at least 16 bytes.');
  const text = values.map((value) => `${new TextEncoder().encode(value).length}:${value}`).join('');
  const digest = hmac(sha256, key, new TextEncoder().encode(text));
  let out = '';
  for (let i = 0, bits = 0, held = 0; out.length < proofLength;) {
    if (bits < 5) {
      held = ((held << 8) | digest[i++]) & 0xfff;
      bits += 8;
      continue;
    }
    bits -= 5;
    out += alphabet[(held >> bits) & 31];
  }
  return out;
}

/** Whether a proof, as it is or as it was typed, belongs to the values. */
export function proofFits(proof: string, values: readonly string[], key: Uint8Array): boolean {
  const typed = proof
    .toUpperCase()
    .replace(/[OIL]/g, (c) => (c === 'O' ? '0' : '1'))
    .replace(/[\s-]/g, '');
  const right = proofOf(values, key);
  // every character is looked at, so that the time taken tells nothing
  let different = typed.length ^ right.length;
  for (let i = 0; i < right.length; i++)
    different |= right.charCodeAt(i) ^ typed.charCodeAt(i % Math.max(1, typed.length));
  return different === 0;
}

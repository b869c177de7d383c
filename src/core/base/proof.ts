import { ed25519 } from '@noble/curves/ed25519';
import { hmac } from '@noble/hashes/hmac';
import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex } from '@noble/hashes/utils';
import * as z from 'zod';

/** 32 capitals and digits without those that look alike, so that a proof can also be typed. */
const alphabet = '0123456789ABCDEFGHJKMNPQRSTVWXYZ';

/**
 * A key as documents store it: sealed, so that no table and no answer shows it; `new` if it is
 * still to be created; or, for a single code that is not stored, in hexadecimal.
 */
export const proofKeySchema = z
  .string()
  .regex(/^(new|sealed:[A-Za-z0-9+/=]{40,400}|([0-9a-f]{2}){16,64})$/);

export const isSealedKey = (key: string): boolean => key.startsWith('sealed:');

let open: ((sealed: string) => string) | undefined;

/** Hands in what opens sealed keys, giving them in hexadecimal. Only a server has it. */
export const provideKeyOpener = (opener: (sealed: string) => string): void => void (open = opener);

let sign = (bytes: Uint8Array, seed: Uint8Array): Uint8Array => ed25519.sign(bytes, seed);

/** Uses a faster signer (Ed25519, RFC 8032) than the script's own; the result is the same. */
export const provideSigner = (signer: typeof sign): void => void (sign = signer);

/** Whether proofs can be made with a key here. */
export const canProve = (key: string): boolean =>
  key !== 'new' && (!isSealedKey(key) || open !== undefined);

/** The bytes of a key. @throws RangeError for one that cannot be opened here */
export function keyBytes(key: string): Uint8Array {
  if (!canProve(key)) throw new RangeError('This key cannot be opened here.');
  const hex = isSealedKey(key) ? open!(key) : key;
  return Uint8Array.from(hex.match(/../g) ?? [], (pair) => parseInt(pair, 16));
}

/**
 * Who checks proofs: the owner of the key (HMAC), short; or anybody, with a public key (Ed25519),
 * long.
 */
export const proofKinds = ['shared', 'public'] as const;
export type ProofKind = (typeof proofKinds)[number];

/**
 * Characters of a proof, 5 bits each: 80 bits, so that nobody finds one by trying, or the 512 of a
 * signature.
 */
export const proofLengths: Readonly<Record<ProofKind, number>> = { shared: 16, public: 103 };

/** A placeholder as long as a proof, if its key is not available. */
export const unknownProof = (kind: ProofKind = 'shared'): string =>
  alphabet[0]!.repeat(proofLengths[kind]);

/**
 * Values as they are vouched for: each with its length before it, so that none can run into the
 * next.
 */
const vouchedBytes = (values: readonly string[]): Uint8Array =>
  new TextEncoder().encode(
    values.map((value) => `${new TextEncoder().encode(value).length}:${value}`).join(''),
  );

/** The first bits of some bytes in characters that can be typed. */
function written(bytes: Uint8Array, length: number): string {
  let out = '';
  for (let i = 0, bits = 0, held = 0; out.length < length;) {
    if (bits < 5) {
      held = ((held << 8) | (bytes[i++] ?? 0)) & 0xfff;
      bits += 8;
      continue;
    }
    bits -= 5;
    out += alphabet[(held >> bits) & 31];
  }
  return out;
}

/** As it was typed, with the letters that look like others. */
const asMeant = (typed: string): string =>
  typed
    .toUpperCase()
    .replace(/[OIL]/g, (c) => (c === 'O' ? '0' : '1'))
    .replace(/[\s-]/g, '');

/**
 * A proof that values come from the owner of the key: HMAC-SHA-256 (RFC 2104), cut to 80 bits; or a
 * signature with Ed25519 (RFC 8032).
 * @param key at least 16 bytes
 */
export function proofOf(
  values: readonly string[],
  key: Uint8Array,
  kind: ProofKind = 'shared',
): string {
  if (key.length < 16) throw new RangeError('A key for proofs needs at least 16 bytes.');
  const bytes = vouchedBytes(values);
  return kind === 'shared'
    ? written(hmac(sha256, key, bytes), proofLengths.shared)
    : written(sign(bytes, seedOf(key)), proofLengths.public);
}

/**
 * The private key of signatures is made from the key for proofs, so that a stamp keeps one key
 * whichever it uses (as HKDF, RFC 5869, expands).
 */
const seedOf = (key: Uint8Array): Uint8Array =>
  hmac(sha256, key, new TextEncoder().encode('hand-stamp signature\u0001'));

/** The public key (RFC 8032) by which anybody checks the signatures of a key, in hexadecimal. */
export const publicKeyOf = (key: Uint8Array): string =>
  bytesToHex(ed25519.getPublicKey(seedOf(key)));

/**
 * Whether a signature, as it is or as it was typed, belongs to the values, by a public key in
 * hexadecimal. Nothing secret is needed.
 */
export function signatureFits(
  proof: string,
  values: readonly string[],
  publicKey: string,
): boolean {
  const typed = asMeant(proof);
  if (typed.length !== proofLengths.public || [...typed].some((c) => !alphabet.includes(c)))
    return false;
  const bytes = new Uint8Array(64);
  let [at, bits, held] = [0, 0, 0];
  for (const c of typed) {
    held = ((held << 5) | alphabet.indexOf(c)) & 0x1fff;
    bits += 5;
    if (bits >= 8 && at < bytes.length) {
      bits -= 8;
      bytes[at++] = (held >> bits) & 0xff;
    }
  }
  try {
    // of one signature there is one way to write it
    return (
      written(bytes, proofLengths.public) === typed &&
      ed25519.verify(bytes, vouchedBytes(values), publicKey, { zip215: false })
    );
  } catch {
    return false;
  }
}

/** Whether a proof, as it is or as it was typed, belongs to the values. */
export function proofFits(proof: string, values: readonly string[], key: Uint8Array): boolean {
  const typed = asMeant(proof);
  const right = proofOf(values, key);
  // compares every character, so that the time reveals nothing
  let different = typed.length ^ right.length;
  for (let i = 0; i < right.length; i++)
    different |= right.charCodeAt(i) ^ typed.charCodeAt(i % Math.max(1, typed.length));
  return different === 0;
}

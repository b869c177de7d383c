import { createCipheriv, createDecipheriv, createHash, randomBytes } from 'node:crypto';
import { configuration } from './configuration';
import { Refusal } from './refusal';

/**
 * The key that encrypts secrets in the database and its backups; the start command stores it beside
 * the database, not in it.
 */
function key(): Buffer {
  const text = configuration().HAND_STAMP_KEY;
  if (!text)
    throw new Refusal(
      'Hand Stamp was started without a key, so it cannot store passwords. Set HAND_STAMP_KEY and start it again.',
      500,
    );
  return keyFrom(text);
}

const keyFrom = (text: string): Buffer => createHash('sha256').update(text).digest();

/** AES-256-GCM: nonce, tag and text, in base64. */
export const seal = (text: string): string => sealed(key(), text);

/** The same with a key that is not the one that is set. */
export const sealWith = (key: string, text: string): string => sealed(keyFrom(key), text);

/** Whether a sealed text opens with a key. */
export function opensWith(key: string, text: string): boolean {
  try {
    opened(keyFrom(key), text);
    return true;
  } catch {
    return false;
  }
}

function sealed(key: Buffer, text: string): string {
  const nonce = randomBytes(12);
  const cipher = createCipheriv('aes-256-gcm', key, nonce);
  const bytes = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()]);
  return Buffer.concat([nonce, cipher.getAuthTag(), bytes]).toString('base64');
}

function opened(key: Buffer, text: string): string {
  const bytes = Buffer.from(text, 'base64');
  const decipher = createDecipheriv('aes-256-gcm', key, bytes.subarray(0, 12));
  decipher.setAuthTag(bytes.subarray(12, 28));
  return Buffer.concat([decipher.update(bytes.subarray(28)), decipher.final()]).toString('utf8');
}

/** Seals a text with another key. @throws Error if it does not open with the first key */
export const reseal = (text: string, from: string, to: string): string =>
  sealed(keyFrom(to), opened(keyFrom(from), text));

export function unseal(text: string): string {
  try {
    return opened(key(), text);
  } catch (error) {
    if (error instanceof Refusal) throw error;
    throw new Refusal(
      'The saved password cannot be opened with this key. Enter the password of the connection again.',
    );
  }
}

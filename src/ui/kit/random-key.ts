/** A new key for proofs, from the browser's source of chance. */
export const randomKey = (): string =>
  Array.from(crypto.getRandomValues(new Uint8Array(32)), (b) =>
    b.toString(16).padStart(2, '0'),
  ).join('');

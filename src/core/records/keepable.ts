/** NUL and halves of a surrogate pair: no text, and a database keeps neither. */
const unkeepable = /\0|\p{Surrogate}/u;

export const isKeepable = (text: string): boolean => !unkeepable.test(text);

/** A text without NUL, and with the sign for an unknown character in place of each half of one. */
export const keepable = (text: string): string =>
  isKeepable(text) ? text : text.replaceAll('\0', '').replace(/\p{Surrogate}/gu, '\ufffd');

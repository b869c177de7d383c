import { Fragment, type ReactNode } from 'react';

/**
 * A text of a `words.ts` with its parts in it: `{1}` is the first one, `{2}` the second. A part may
 * be a control, so a whole sentence with controls is one text, which can be read and translated.
 */
export function withParts(text: string, ...parts: readonly ReactNode[]): ReactNode {
  return text
    .split(/\{(\d+)\}/)
    .map((piece, i) =>
      i % 2 === 1 ? <Fragment key={i}>{parts[Number(piece) - 1]}</Fragment> : piece,
    );
}

/** The same where all parts are text: for labels, titles and messages. */
export const filled = (
  text: string,
  ...parts: readonly (string | number | boolean | null | undefined)[]
): string => text.replace(/\{(\d+)\}/g, (_, n: string) => String(parts[Number(n) - 1]));

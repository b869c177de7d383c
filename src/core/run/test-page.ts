import { counted } from '../base/words';

/**
 * The content of a code on a printer's test page: the printer, and how many dots its modules have.
 */
export const testPageText = (printer: string, dots: number, moduleMm: number): string =>
  `${printer}: ${counted(dots, 'dot')} per square, ${moduleMm.toFixed(3)} mm`;

/** Dots a module of the codes of a test page, the coarsest first. */
export const testPageDots: readonly number[] = Array.from({ length: 12 }, (_, i) => 12 - i);

/**
 * The finest module that a printer really prints, by the codes read in a picture of its test page:
 * every coarser one was read, too.
 * @returns dots of a module; null if too little was read
 */
export function finestRead(printer: string, texts: readonly string[]): number | null {
  const read = new Set(
    texts.flatMap((text) => {
      const found = text.startsWith(`${printer}: `)
        ? /^(\d+) dots? (?:per square|a module), [\d.]+ mm$/.exec(text.slice(printer.length + 2))
        : null;
      return found ? [Number(found[1])] : [];
    }),
  );
  let finest: number | null = null;
  for (const dots of testPageDots) {
    if (!read.has(dots)) break;
    finest = dots;
  }
  return finest;
}

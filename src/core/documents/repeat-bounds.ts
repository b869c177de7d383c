import { counted } from '../base/words';
import { DocumentError } from './error';

/** The most paragraphs and letters that one repeated part may make in a document. */
const mostParagraphs = 100_000;
const mostLetters = 5_000_000;

/**
 * @param texts of the repeated paragraphs @throws DocumentError before anything is copied, if there
 *   would be too many copies
 */
export function checkRepeated(rows: number, texts: readonly string[]): void {
  const letters = texts.reduce((sum, text) => sum + text.length, 0);
  if (rows * texts.length > mostParagraphs || rows * letters > mostLetters)
    throw new DocumentError(
      `The repeated part would come ${rows.toLocaleString('en')} times, with ${counted(texts.length, 'paragraph')} each time: more than one document can hold. Choose fewer records, or repeat a smaller part.`,
    );
}

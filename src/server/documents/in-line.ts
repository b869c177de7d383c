import type { Document } from 'domhandler';
import { htmlText } from '../../core/documents/html';

/** A page as text with inline styles, as mail programs and page editors need it. */
export async function textInLine(root: Document): Promise<string> {
  const text = htmlText(root);
  const { default: juice } = await import('juice');
  return juice(text);
}

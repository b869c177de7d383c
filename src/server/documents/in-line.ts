import type { Document } from 'domhandler';
import { htmlText } from '../../core/documents/html';

/** A page as text, its styles in line, as those who read mails and set pages know them. */
export async function textInLine(root: Document): Promise<string> {
  const text = htmlText(root);
  const { default: juice } = await import('juice');
  return juice(text);
}

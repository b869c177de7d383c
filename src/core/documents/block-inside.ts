import type { DocumentBlock } from '../piece/ground';
import { openDocx, walk } from './docx';
import { DocxBlock } from './docx-block';
import { DocumentError } from './error';
import { openHtml, walkHtml } from './html';
import { HtmlBlock } from './html-block';

/**
 * The paragraphs of an example that repeat with a block or are removed because of it, and the
 * pictures that repeat, by number.
 * @throws DocumentError if the example has no such row or lines
 */
export function blockInside(
  bytes: Uint8Array,
  kind: 'docx' | 'html',
  block: DocumentBlock,
): { paragraphs: number[]; pictures: readonly number[] } {
  const found = kind === 'html' ? inPage(bytes, block) : inDocument(bytes, block);
  return { paragraphs: found.inside, pictures: found.pictures };
}

const inPage = (bytes: Uint8Array, block: DocumentBlock) =>
  new HtmlBlock(block, walkHtml(openHtml(bytes).root));

function inDocument(bytes: Uint8Array, block: DocumentBlock): DocxBlock {
  const part = openDocx(bytes).parts.get(block.part);
  if (!part)
    throw new DocumentError('The document has no such part. Choose again in the document.');
  return new DocxBlock(block, walk(part.documentElement!));
}

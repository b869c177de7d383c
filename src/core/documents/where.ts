import { artItems, symbolArt } from '../artwork/symbol-art';
import { measure } from '../look/layout';
import type { Stamp } from '../payload/stamp';
import type { PdfsGround } from '../piece/ground';
import type { CodeSymbol } from '../symbology';
import type { PutOnPage, ShownPage } from './pdf';

/** Which pages carry the code, from 0. */
export function pagesWithCode({ pages }: Pick<PdfsGround, 'pages'>, count: number): number[] {
  const all = Array.from({ length: count }, (_, i) => i);
  if (pages === 'first') return all.slice(0, 1);
  if (pages === 'last') return all.slice(-1);
  return pages === 'not-first' ? all.slice(1) : all;
}

/** Top left of a code of a size on a page, from the corner that was chosen, in mm. */
export function cornerPlace(
  { corner, acrossMm, downMm }: Pick<PdfsGround, 'corner' | 'acrossMm' | 'downMm'>,
  page: Pick<ShownPage, 'widthMm' | 'heightMm'>,
  code: { widthMm: number; heightMm: number },
): { x: number; y: number } {
  return {
    x: corner.endsWith('left') ? acrossMm : page.widthMm - acrossMm - code.widthMm,
    y: corner.startsWith('top') ? downMm : page.heightMm - downMm - code.heightMm,
  };
}

/** A code as it is put on the pages of a document that carry it. */
export function onPages(
  ground: PdfsGround,
  stamp: Stamp,
  symbol: CodeSymbol,
  pages: readonly ShownPage[],
  about: string,
): PutOnPage[] {
  const look = { ...stamp.look, sizeMm: ground.sizeMm, moduleDots: undefined };
  const art = symbolArt(symbol, look);
  const { moduleMm, widthMm, heightMm } = measure(art.symbol, look);
  return pagesWithCode(ground, pages.length).map((page) => ({
    page,
    ...cornerPlace(ground, pages[page], { widthMm, heightMm }),
    widthMm,
    heightMm,
    items: artItems(art, 0, 0, moduleMm),
    about,
  }));
}

import { artItems, symbolArt } from '../artwork/symbol-art';
import { measure } from '../look/layout';
import type { Stamp } from '../payload/stamp';
import type { FontBook } from '../artwork/fonts';
import { outlined } from '../artwork/text-outlines';
import type { DrawItem } from '../drawing/drawing';
import { captionWords } from '../piece/caption';
import { fitCaption } from '../piece/fit-caption';
import type { PdfsGround } from '../piece/ground';
import type { Values } from '../records/columns';
import type { CodeSymbol } from '../symbology';
import type { PutOnPage, ShownPage } from './pdf';
import { cornerPlace, lookOnPages, pagesWithCode, withCaption } from './place';
import { placeOn } from './room';

/**
 * A code as it is put on the pages of a document that carry it, with its caption as outlines.
 * @param values of the record, for the caption
 */
export function onPages(
  ground: PdfsGround,
  stamp: Stamp,
  symbol: CodeSymbol,
  pages: readonly ShownPage[],
  about: string,
  values: Values,
  fonts: FontBook,
): PutOnPage[] {
  const look = lookOnPages(ground, stamp.look);
  const art = symbolArt(symbol, look);
  const { moduleMm, widthMm, heightMm } = measure(art.symbol, look);
  const size = withCaption(ground, { widthMm, heightMm });
  const caption = fitCaption(ground.caption, values, heightMm, widthMm, fonts);
  const items: DrawItem[] = [
    ...(ground.ground === 'white'
      ? [
          {
            ...{ kind: 'rect' as const, x: 0, y: 0, fill: '#ffffff' },
            ...{ width: size.widthMm, height: size.heightMm },
          },
        ]
      : []),
    ...artItems(art, 0, 0, moduleMm),
    ...(caption?.items ?? []).map((item) => outlined(item, fonts)),
  ];
  const place = placeOn(ground, pages);
  return pagesWithCode(ground, pages.length).map((page) => ({
    page,
    ...cornerPlace(place, pages[page]!, size),
    ...size,
    items,
    about: caption ? `${about}, ${captionWords(ground.caption, values)}` : about,
  }));
}

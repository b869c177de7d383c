import { cornerPlace, pagesWithCode, withCaption } from '../../documents/place';
import { coveredPage, placeOn } from '../../documents/room';
import { captionWords } from '../../piece/caption';
import { fitCaption } from '../../piece/fit-caption';
import { contentOf } from '../../payload/stamp';
import { pdfOf, pdfsOf } from '../pdfs';
import { codeTrouble } from './code-size';
import type { GroundJudging, GroundProblem } from './judging';

/** The contents of a PDF with its code, and its problems. */
export const pdfs: GroundJudging = {
  says: (piece, stamps, values) => {
    const { stamp: id, sizeMm, corner, acrossMm, downMm, pages, range, turn } = pdfsOf(piece);
    const { ground, caption, each } = pdfsOf(piece);
    const later = [ground ?? null, caption ? captionWords(caption, values) : null, each ?? null];
    const stamp = stamps.find((s) => s.id === id);
    const content = stamp && contentOf(stamp, values);
    return [
      pdfOf(values)?.document ?? null,
      [
        ...[sizeMm, corner, acrossMm, downMm, pages],
        // the hash of earlier prints must stay the same
        ...(range === undefined && turn === undefined ? [] : [range ?? null, turn ?? null]),
      ],
      content?.state === 'said' ? [stamp!.symbology, content.payload] : null,
      ...(later.some((one) => one !== null) ? later : []),
    ];
  },
  problems: (piece, stamps, values, fonts) => {
    const ground = pdfsOf(piece);
    const pdf = pdfOf(values);
    if (!pdf) return [{ reason: 'there is no PDF for this record', none: true }];
    const problems: GroundProblem[] = [];
    if (pdf.of > 1) problems.push({ reason: `there are ${pdf.of} PDFs for this record` });
    if (pdf.signed && !ground.signed)
      problems.push({
        reason: `${pdf.name} is signed; with a code it says that it was changed since`,
      });
    const code = { widthMm: ground.sizeMm, heightMm: ground.sizeMm };
    const size = withCaption(ground, code);
    const place = placeOn(ground, pdf.pages);
    const carrying = pagesWithCode(ground, pdf.pages.length);
    if (carrying.length === 0)
      problems.push({
        none: true,
        reason:
          ground.pages === 'these'
            ? `${pdf.name} has none of the pages ${ground.range ?? ''}`
            : `${pdf.name} has one page only, and none carries the code`,
      });
    for (const number of carrying) {
      const page = pdf.pages[number]!;
      const { x, y } = cornerPlace(place, page, size);
      if (x < 0 || y < 0 || x + size.widthMm > page.widthMm || y + size.heightMm > page.heightMm) {
        problems.push({
          reason: `the code goes over the edge of page ${number + 1} of ${pdf.name}`,
        });
        break;
      }
    }
    const trouble = codeTrouble(
      stamps.find((s) => s.id === ground.stamp),
      values,
      code,
    );
    if (trouble) problems.push({ reason: trouble });
    const caption = fitCaption(ground.caption, values, 0, ground.sizeMm, fonts);
    if (caption && caption.over > 0)
      problems.push({
        reason: `“${captionWords(ground.caption, values).slice(0, 40)}” is ${caption.over} letters too long for below the code`,
      });
    if (caption && caption.unprintable.length > 0)
      problems.push({ reason: `no typeface here has ${caption.unprintable.join(' ')}` });
    const covered = coveredPage({ ...ground, ...place }, pdf.pages);
    if (covered !== undefined)
      problems.push({
        reason: `the code lies over something on page ${covered + 1} of ${pdf.name}`,
      });
    return problems;
  },
};

import type { Input, Output, WorkName } from '../platform';

/**
 * Work that runs in a process of its own, because a hostile or unlucky input can make it slow, take
 * all memory, or crash it. Each is loaded only where it runs.
 */
export const works: { [W in WorkName]: (input: Input<W>) => Promise<Output<W>> } = {
  /** A background task, whole, with a database connection of its own. */
  task: async ({ name, payload }) => {
    const [{ performTask }, { database }] = await Promise.all([
      import('./registry'),
      import('../platform/db'),
    ]);
    await performTask(database(), name, payload);
  },
  /** A picture from outside, redrawn as plain pixels. */
  picture: async ({ name, bytes, side }) => {
    const { keepPicture } = await import('../platform/pictures');
    return keepPicture(name, Buffer.from(bytes), side);
  },
  /** The picture of a code, read back. */
  code: async ({ stamp, values, format }) => {
    const [{ codeFile }, { provideReader }] = await Promise.all([
      import('../outputs/codes'),
      import('../platform/reader'),
    ]);
    provideReader();
    const made = await codeFile(stamp, values, format);
    return made && { bytes: made.bytes, reads: made.back.result === 'read' };
  },
  /** A document from outside, analysed. */
  document: async ({ bytes, kind }) => {
    if (kind === 'html') return (await import('../../core/documents/html')).inspectHtml(bytes);
    const { inspectDocx } = await import('../../core/documents');
    return inspectDocx(bytes);
  },
  /** The parts that repeat with a block. */
  'document-block': async ({ bytes, kind, block }) => {
    const { blockInside } = await import('../../core/documents');
    return blockInside(bytes, kind, block);
  },
  /** A PDF from outside, analysed, with its text. */
  pdf: async ({ bytes, password }) => {
    const [{ inspectPdf }, { codesOfPdf, inkOfPages, textOfPdf }] = await Promise.all([
      import('../../core/documents/pdf'),
      import('../documents/pdf-pages'),
    ]);
    const facts = await inspectPdf(bytes, password);
    const ink = await inkOfPages(bytes, facts.pages, password);
    return {
      ...facts,
      pages: facts.pages.map((page, i) => ({ ...page, ...(ink[i] ? { ink: ink[i] } : {}) })),
      text: await textOfPdf(bytes, password),
      codes: await codesOfPdf(bytes, facts.pages.length, password),
    };
  },
  /** A page of a PDF as a picture (PNG). */
  'pdf-page': async ({ bytes, page, dpi, password }) => {
    const { pictureOfPage } = await import('../documents/pdf-pages');
    return pictureOfPage(bytes, page, dpi, password);
  },
  /** A copy of it for the screen. */
  'shown-document': async ({ bytes, kind }) => {
    if (kind === 'html')
      return Buffer.from((await import('../../core/documents/html-fill')).shownHtml(bytes));
    const { shownDocx } = await import('../../core/documents');
    return shownDocx(bytes);
  },
};

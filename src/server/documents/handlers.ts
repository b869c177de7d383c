import type { Handlers } from '../access';
import { fileNameOf, bytesOf, Refusal, passwordOf, lockedPage } from '../platform';
import * as contract from '../../contract';
import { keepPdf, startSet, pageOfDocument, pdfsInJob, documentsCame } from './pdf-sets';
import { viewDocument, shownDocument, keepDocument } from './keeping';
import { findInRow, findInDocument } from './finding';
import { pageOfRecord } from './page-of-record';
import { rowsOfRecord } from './rows';
import { rejudgePiece } from '../judging';
import { hasOffice, officePackage } from './office';

/** The handlers of this module, by route. */
export const documentsHandlers = {
  bringPdf: async ({ request, db, params, actor }) => {
    const name = fileNameOf(request, 'document.pdf');
    const bytes = await bytesOf(
      request,
      contract.bringPdf.upload.most,
      (n) =>
        new Refusal(
          `${name} is too large: ${Math.ceil(n / 2 ** 20)} MB of at most 100 MB. Make it smaller or split it, and try again.`,
          413,
        ),
    );
    if (bytes.length === 0) throw new Refusal(`${name} is empty. Choose another file.`);
    return keepPdf(db, params.id, name, bytes, actor, passwordOf(request));
  },

  startSet: async ({ db, body, actor }) => ({
    id: await startSet(db, body.name, actor),
  }),

  documentPage: async ({ db, params }) => {
    const bytes = await pageOfDocument(db, params.id, params.page);
    return new Response(Uint8Array.from(bytes), {
      headers: {
        'content-type': 'image/png',
        'x-content-type-options': 'nosniff',
        // a document never changes
        'cache-control': 'private, max-age=86400, immutable',
      },
    });
  },

  viewDocument: ({ db, params }) => viewDocument(db, params.id),

  shownDocument: async ({ db, params }) => {
    const { kind, bytes } = await shownDocument(db, params.id);
    return new Response(Uint8Array.from(bytes), {
      headers: {
        'content-type': contract.shownDocument.answer.files[kind === 'html' ? 1 : 0],
        // it is drawn by our own page only
        'content-security-policy': `sandbox; default-src 'none'`,
        'content-disposition': 'attachment',
        'x-content-type-options': 'nosniff',
        // a document never changes
        'cache-control': 'private, max-age=86400, immutable',
      },
    });
  },

  bringDocument: async ({ request, db, actor }) => {
    const name = fileNameOf(request, 'document.docx');
    const bytes = await bytesOf(
      request,
      contract.bringDocument.upload.most,
      (n) =>
        new Refusal(
          `${name} is too large: ${Math.ceil(n / 2 ** 20)} MB of at most 20 MB. Make its pictures smaller and save it again.`,
          413,
        ),
    );
    if (bytes.length === 0) throw new Refusal(`${name} is empty. Choose another file.`);
    return keepDocument(db, name, bytes, actor);
  },

  findInRow: ({ db, params, body }) => findInRow(db, params.id, body),

  pageOfRecord: async ({ db, params }) =>
    lockedPage(await pageOfRecord(db, params.id, params.record)),

  findInDocument: ({ db, params, body }) => findInDocument(db, params.id, body),

  findRows: async ({ db, params, body }) => ({
    rows: await rowsOfRecord(db, params.id, body.record),
  }),

  listPdfs: ({ db, params }) => pdfsInJob(db, params.id),

  lookAgain: async ({ db, params }) => {
    await documentsCame(db, params.id);
    await rejudgePiece(db, params.id);
    return contract.done;
  },

  viewTools: async () => ({
    office: { there: hasOffice(), package: officePackage },
  }),
} satisfies Partial<Handlers>;

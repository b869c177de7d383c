import type { Handlers } from '../access';
import { runFileFor, listRuns, compareRuns, viewRun } from './run-views';
import { note } from '../access';
import { streamed, readFilePieces, bytesOf, Refusal, fileNameOf } from '../platform';
import { viewIntake, printedFolder } from '../sources';
import { waitsBehind } from './waiting';
import { proofOf } from './proof';
import { quickPrint, startRun, runAgain, cancelRun, removeRun } from './runs';
import * as contract from '../../contract';
import { finishStopped } from './stopped';
import { receiptPart, receiptPages, receiptCsv, receiptJson } from './receipt';
import { listPaperFiles, takePaperFile } from './paper-files';
import { readFromPaper } from './paper';
import { paperSheet } from './paper-sheet';
import { receiptPdf } from './receipt-pdf';

const types = {
  csv: 'text/csv; charset=utf-8',
  json: 'application/json',
  pdf: 'application/pdf',
};

/** The handlers of this module, by route. */
export const runsHandlers = {
  runFile: async ({ db, params, person, mayHere, number }) => {
    const file = await runFileFor(db, params.id, await mayHere());
    if (file.secret)
      await note(db, {
        person,
        what: 'Downloaded a file with secrets',
        about: file.name,
        request: number,
      });
    return new Response(streamed(readFilePieces(db, file.id)), {
      headers: {
        'content-type': file.mime,
        'content-length': String(file.size),
        'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(file.name)}`,
        'x-content-type-options': 'nosniff',
      },
    });
  },

  viewIntake: async ({ db, params }) => {
    const intake = await viewIntake(db, params.id);
    return intake.state === 'waiting'
      ? { ...intake, waits: await waitsBehind(db, intake.id) }
      : intake;
  },

  proveRun: async ({ db, params, body, mayHere }) =>
    proofOf(db, params.id, body.run, body.sheet, await mayHere()),

  quickPrint: async ({ db, params, body, actor }) => ({
    id: await quickPrint(db, params.id, body, actor),
  }),

  listRuns: async ({ db, params }) => ({
    runs: await listRuns(db, params.id),
  }),

  startRun: async ({ db, params, body, actor }) => ({
    id: await startRun(db, params.id, body, actor),
  }),

  runAgain: async ({ db, params, actor }) => ({
    id: await runAgain(db, params.id, actor),
  }),

  cancelRun: async ({ db, params }) => {
    await cancelRun(db, params.id);
    return contract.done;
  },

  compareRuns: async ({ db, params, query }) => compareRuns(db, query.with, params.id),

  finishRun: async ({ db, params }) => {
    await finishStopped(db, params.id);
    return contract.done;
  },

  runLines: async ({ db, params, query }) => ({
    lines: await receiptPart(
      db,
      params.id,
      query.page === undefined ? 'failed' : { page: query.page },
    ),
  }),

  runPages: async ({ db, params }) => ({
    pages: await receiptPages(db, params.id),
  }),

  listPaperFiles: async ({ db, params }) => ({
    files: await listPaperFiles(db, params.id),
  }),

  readPaperFile: async ({ request, db, params, actor }) => {
    const bytes = await bytesOf(
      request,
      contract.readPaperFile.upload.most,
      () => new Refusal('The scan is larger than 60 MB. Scan it in parts.', 413),
    );
    return {
      id: await takePaperFile(
        db,
        params.id,
        fileNameOf(request, 'scan'),
        Buffer.from(bytes),
        actor,
      ),
    };
  },

  readPaper: async ({ db, params, body, actor }) => ({
    pictures: await readFromPaper(db, params.id, body.pictures, actor),
  }),

  paperSheet: ({ db, params, query }) => paperSheet(db, params.id, query.page),

  runReceipt: async ({ db, params: { id }, query: { as } }) => {
    const headers = {
      'content-type': types[as],
      'content-disposition': `attachment; filename="receipt-${id}.${as}"`,
    };
    if (as === 'pdf') return new Response(Buffer.from(await receiptPdf(db, id)), { headers });
    const parts = as === 'csv' ? await receiptCsv(db, id) : await receiptJson(db, id);
    return new Response(streamed(parts), { headers });
  },

  viewRun: async ({ db, params }) => viewRun(db, params.id),

  removeRun: async ({ db, params }) => {
    await removeRun(db, params.id);
    return contract.done;
  },

  listTrayPaper: async ({ db }) => ({
    folder: printedFolder() ?? null,
    files: await listPaperFiles(db, 'tray'),
  }),
} satisfies Partial<Handlers>;

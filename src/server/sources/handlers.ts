import type { Handlers } from '../access';
import { tablesOf, forgetConnection, listConnections, keepConnection } from './connections';
import * as contract from '../../contract';
import { keepPdf } from '../documents';
import { trayPdf, trayPdfs, trayFolder, trayEntries, trayOthers } from './tray';
import { readIntakeAs, dropIntake, sayIntakeSame, beginTaking, fetchIntake } from './asking';
import { rereadRows } from './comparison';
import { fileNameOf, bytesOf, Refusal } from '../platform';
import { tooLarge } from './files/book';
import { askIntake, readAgain } from './reread';

/** The handlers of this module, by route. */
export const sourcesHandlers = {
  listTables: async ({ db, params }) => ({
    tables: await tablesOf(db, params.id),
  }),

  forgetConnection: async ({ db, params }) => {
    await forgetConnection(db, params.id);
    return contract.done;
  },

  listConnections: async ({ db }) => ({
    connections: await listConnections(db),
  }),

  keepConnection: async ({ db, body, actor }) => ({
    id: await keepConnection(db, body, actor),
  }),

  bringTrayPdf: async ({ db, params, body, actor }) =>
    // by name alone; of one name in two folders the later replaces the earlier
    keepPdf(
      db,
      params.id,
      body.name.replace(/^.*\//, ''),
      await trayPdf(body.name),
      actor,
      body.password,
    ),

  readIntakeAs: async ({ db, params, body }) => {
    await readIntakeAs(db, params.id, body);
    return contract.done;
  },

  dropIntake: async ({ db, params }) => {
    await dropIntake(db, params.id);
    return contract.done;
  },

  intakeRows: async ({ db, params, query }) => ({
    rows: await rereadRows(db, params.id, query.from, query.change),
  }),

  sayIntakeSame: async ({ db, params, body }) => {
    await sayIntakeSame(db, params.id, body);
    return contract.done;
  },

  takeIntake: async ({ db, params, body }) => {
    await beginTaking(db, params.id, body);
    return contract.done;
  },

  startIntake: async ({ request, db, actor, query, body }) => {
    if (body) return { id: await fetchIntake(db, body, actor) };
    const name = fileNameOf(request, 'records');
    const bytes = await bytesOf(request, contract.startIntake.upload.most, (n) =>
      tooLarge(name, n),
    );
    if (bytes.length === 0) throw new Refusal(`${name} is empty. Choose another file.`);
    const pasted = request.headers.get('x-pasted') === 'yes';
    const origin = pasted
      ? ({ kind: 'paste', headerRow: 0 } as const)
      : ({ kind: 'file', name, headerRow: 0 } as const);
    return { id: await askIntake(db, { name, bytes, origin, list: query.list, actor }) };
  },

  readListAgain: async ({ db, params, actor }) => ({
    id: await readAgain(db, params.id, actor),
  }),

  listTrayPdfs: async () => ({ names: await trayPdfs() }),

  viewTray: async () => ({
    folder: trayFolder() ?? null,
    entries: await trayEntries(),
    others: await trayOthers(),
  }),
} satisfies Partial<Handlers>;

import type { Handlers } from '../access';
import { editCells, addRecords, removeRecords } from './edits';
import * as contract from '../../contract';
import { keepWorkedColumn, changeColumn, removeWorkedColumn } from './columns';
import { fetchPictures, listPicture, pictureNames, keepListPicture } from './list-pictures';
import { rejudgePictures } from '../judging';
import { bytesOf, Refusal, fileNameOf } from '../platform';
import { previewWorked } from './worked-preview';
import { problemRows, mend } from './problems';
import { revisionRows, turnRevision, listRevisions, stepBack } from './revisions';
import { renameList, removeList } from './lists';
import { listLists, listLookups } from './list-views';
import { seenBy } from '../access';

/** The handlers of this module, by route. */
export const listsHandlers = {
  editCells: async ({ db, params, body, actor }) => {
    await editCells(db, params.id, body.edits, actor);
    return contract.done;
  },

  keepWorkedColumn: async ({ db, params, body, actor }) => ({
    id: await keepWorkedColumn(db, params.id, body, actor),
  }),

  changeColumn: async ({ db, params, body, actor }) => {
    await changeColumn(db, params.id, body, actor);
    return contract.done;
  },

  removeWorkedColumn: async ({ db, params, query, actor }) => {
    await removeWorkedColumn(db, params.id, query.column, actor);
    return contract.done;
  },

  fetchListPictures: async ({ db, params, body }) => {
    const told = await fetchPictures(db, params.id, body.column, body.after);
    if (told.next === null) await rejudgePictures(db, params.id);
    return told;
  },

  viewListPicture: async ({ db, params, query }) => ({
    picture: (await listPicture(db, params.id, query.name)) ?? null,
  }),

  listPictureNames: async ({ db, params }) => ({
    names: await pictureNames(db, params.id),
  }),

  addListPicture: async ({ request, db, params, query }) => {
    const bytes = await bytesOf(
      request,
      contract.addListPicture.upload.most,
      () => new Refusal('The picture is larger than 20 MB. Make it smaller and try again.', 413),
    );
    await keepListPicture(db, params.id, fileNameOf(request, ''), bytes);
    if (query.last === 'yes') await rejudgePictures(db, params.id);
    return contract.done;
  },

  previewWorked: async ({ db, params, body }) => previewWorked(db, params.id, body),

  listProblems: async ({ db, params, query }) => ({
    rows: await problemRows(db, params.id, query.kind),
  }),

  mendProblems: async ({ db, params, body, actor }) => ({
    mended: await mend(db, params.id, body.kind, body.records, actor),
  }),

  addRecords: async ({ db, params, body, actor }) => ({
    ids: await addRecords(db, params.id, body.records, actor),
  }),

  removeRecords: async ({ db, params, body, actor }) => ({
    gone: await removeRecords(db, params.id, body.ids, actor),
  }),

  viewRevision: async ({ db, params, query }) =>
    revisionRows(db, params.id, params.number, query.from),

  turnRevision: async ({ db, params, body, actor }) => ({
    did: await turnRevision(db, params.id, params.number, body.direction, actor),
  }),

  listRevisions: async ({ db, params }) => ({
    revisions: await listRevisions(db, params.id),
  }),

  renameList: async ({ db, params, body }) => {
    await renameList(db, params.id, body);
    return contract.done;
  },

  removeList: async ({ db, params }) => {
    await removeList(db, params.id);
    return contract.done;
  },

  stepList: async ({ db, params, body, actor }) => ({
    did: (await stepBack(db, params.id, body.direction, actor)) ?? null,
  }),

  listLists: async ({ db, person }) => ({
    lists: await listLists(db, await seenBy(db, person)),
  }),

  listLookups: async ({ db }) => ({
    lists: await listLookups(db),
  }),
} satisfies Partial<Handlers>;

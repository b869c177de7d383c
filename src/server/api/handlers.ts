import type { Handlers } from '../access';
import {
  apiJob,
  apiStartRun,
  apiJobs,
  apiLink,
  linkTagOf,
  apiChangeLink,
  apiMakeLink,
  apiLinks,
  apiCode,
  apiRecord,
  tagOf,
  apiChangeRecord,
  apiRemoveRecord,
  apiCreateRecords,
  apiRecords,
  apiCreateRecord,
  apiLists,
  apiRunFile,
  apiRun,
} from './answers';
import * as contract from '../../contract';
import { openApi } from './openapi';
import { baseAddress, streamed, readFilePieces } from '../platform';

const types = { svg: 'image/svg+xml', png: 'image/png' };

/** The handlers of this module, by route. */
export const apiHandlers = {
  apiJob: async ({ db, params }) => apiJob(db, params.id),

  apiStartRun: async ({ db, caller, params, body }) => apiStartRun(db, caller, params.id, body),

  apiJobs: async ({ db, caller }) => ({
    jobs: await apiJobs(db, caller),
  }),

  apiLink: async ({ db, caller, params, answerHeaders }) => {
    const link = await apiLink(db, caller, params.code);
    answerHeaders.set('etag', linkTagOf(link));
    return link;
  },

  apiChangeLink: async ({ db, caller, params, body, tell, request, answerHeaders }) => {
    tell(params.code);
    const match = request.headers.get('if-match');
    const link = await apiChangeLink(db, caller, params.code, body, match);
    answerHeaders.set('etag', linkTagOf(link));
    return link;
  },

  apiMakeLink: async ({ db, caller, body, tell }) => {
    tell(body.title);
    return apiMakeLink(db, caller, body);
  },

  apiLinks: async ({ db, caller, params, query }) => apiLinks(db, caller, params.id, query),

  apiCode: async ({ db, caller, params, query }) => {
    const bytes = await apiCode(db, caller, params.id, params.record, query);
    return new Response(Buffer.from(bytes), {
      headers: { 'content-type': types[query.format], 'cache-control': 'private, no-cache' },
    });
  },

  apiRecord: async ({ db, caller, params, answerHeaders }) => {
    const record = await apiRecord(db, caller, params.id, params.record);
    answerHeaders.set('etag', tagOf(record));
    return record;
  },

  apiChangeRecord: async ({ db, caller, params, body, request, answerHeaders }) => {
    const match = request.headers.get('if-match');
    const record = await apiChangeRecord(db, caller, params.id, params.record, body.values, match);
    answerHeaders.set('etag', tagOf(record));
    return record;
  },

  apiRemoveRecord: async ({ db, caller, params, request }) => {
    await apiRemoveRecord(db, caller, params.id, params.record, request.headers.get('if-match'));
    return contract.done;
  },

  apiCreateRecords: async ({ db, caller, params, request }) => ({
    ids: await apiCreateRecords(db, caller, params.id, request),
  }),

  apiRecords: async ({ db, caller, params, query }) => apiRecords(db, caller, params.id, query),

  apiCreateRecord: async ({ db, caller, params, body }) =>
    apiCreateRecord(db, caller, params.id, body.values),

  apiLists: async ({ db, caller }) => ({
    lists: await apiLists(db, caller),
  }),

  apiDocument: async ({ db }) => Response.json(openApi(await baseAddress(db))),

  apiRunFile: async ({ db, caller, params }) => {
    const file = await apiRunFile(db, caller, params.id, params.file);
    return new Response(streamed(readFilePieces(db, file.id)), {
      headers: {
        'content-type': file.mime,
        'content-length': String(file.size),
        'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(file.name)}`,
      },
    });
  },

  apiRun: async ({ db, params }) => apiRun(db, params.id),
} satisfies Partial<Handlers>;

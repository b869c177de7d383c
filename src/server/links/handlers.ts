import type { Handlers } from '../access';
import {
  addressRows,
  addressesOf,
  giveAddresses,
  withdrawAddresses,
  codeAt,
} from './code-addresses';
import { baseAddress, csvLines } from '../platform';
import * as contract from '../../contract';
import { doorReport, startAsking, stopAsking } from './door';
import { viewLink, linkCounts, listLinks } from './views';
import { startAskingLinks, stopAskingLinks } from './asking';
import { changeLinks, makeLink, undoLinks } from './changing';
import { viewOurAddresses, changeOurAddresses, effectOfAddresses } from './our-addresses';
import { createHash } from 'node:crypto';
import { followLink } from './following';

const types = {
  png: 'image/png',
  jpeg: 'image/jpeg',
  svg: 'image/svg+xml',
  eps: 'application/postscript',
  pdf: 'application/pdf',
};

/** The handlers of this module, by route. */
export const linksHandlers = {
  addressesFile: async ({ db, params, query }) => {
    const { stamp, ending, ...wanted } = query;
    const rows = await addressRows(db, params.id, stamp, await baseAddress(db), ending, wanted);
    return new Response(csvLines(rows, { bom: true }), {
      headers: {
        'content-type': 'text/csv; charset=utf-8',
        'content-disposition': 'attachment; filename="code-addresses.csv"',
      },
    });
  },

  viewAddresses: async ({ db, params, query }) =>
    addressesOf(db, params.id, query.stamp, query.record),

  giveAddresses: async ({ db, params, body, actor }) => ({
    added: await giveAddresses(db, params.id, body.stamp, actor, body.records),
  }),

  withdrawAddresses: async ({ db, params, body }) => {
    await withdrawAddresses(db, params.id, body.stamp, body.records);
    return contract.done;
  },

  viewDoor: async ({ db, params, query }) => doorReport(db, params.id, query.stamp),

  askDoor: async ({ db, params, body }) => {
    await startAsking(db, params.id, body.stamp);
    return contract.done;
  },

  stopAskingDoor: async ({ db, params }) => {
    await stopAsking(db, params.id);
    return contract.done;
  },

  viewLink: async ({ db, params, mayHere }) => viewLink(db, params.code, await mayHere()),

  askLinks: async ({ db }) => {
    await startAskingLinks(db);
    return contract.done;
  },

  stopAskingLinks: async ({ db }) => {
    await stopAskingLinks(db);
    return contract.done;
  },

  changeLinks: async ({ db, body, actor, tell }) => {
    const done = await changeLinks(db, body.links, body.change, actor);
    tell(`${done.changed} ${done.changed === 1 ? 'link' : 'links'}`);
    return done;
  },

  linkCounts: async ({ db, query, mayHere }) => linkCounts(db, query.list, await mayHere()),

  listLinks: async ({ db, query, mayHere }) => listLinks(db, query, await mayHere()),

  makeLink: async ({ db, body, actor, tell }) => {
    tell(body.title);
    return makeLink(db, body, actor);
  },

  undoLinks: async ({ db, body, actor }) => undoLinks(db, body.batch, actor),

  viewOurAddresses: async ({ db }) => viewOurAddresses(db),

  changeOurAddresses: async ({ db, body, tell }) => {
    const now = await changeOurAddresses(db, body);
    tell(`${now.base}, links on ${now.links}`);
    return now;
  },

  tryOurAddresses: async ({ db, body }) => effectOfAddresses(db, body),

  codePicture: async ({ db, params, query, request }) => {
    const { bytes, format } = await codeAt(db, params.name, query);
    const headers = {
      'content-type': types[format],
      etag: `"${createHash('sha256').update(bytes).digest('base64url').slice(0, 22)}"`,
      // a change of the code is seen within a minute; a repeated request without a change gets 304
      // (RFC 9110, 13)
      'cache-control': 'public, max-age=60',
      'access-control-allow-origin': '*',
      'x-robots-tag': 'noindex',
    };
    const has = request.headers.get('if-none-match')?.split(/\s*,\s*/) ?? [];
    if (has.includes('*') || has.some((tag) => tag.replace(/^W\//, '') === headers.etag))
      return new Response(null, { status: 304, headers });
    return new Response(Buffer.from(bytes), { headers });
  },

  followLink: async ({ db, params, request }) => followLink(db, params.code, request),

  previewLink: async ({ db, params, request }) =>
    followLink(db, params.code, request, { preview: true }),
} satisfies Partial<Handlers>;

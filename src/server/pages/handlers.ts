import type { Handlers } from '../access';
import { viewOwnPage, changeOwnPage, ownPage, fetchOwn } from './own-page';
import { viewPages, startPages, changePages } from './page-sets';
import { recordPage } from './record-page';

/** The handlers of this module, by route. */
export const pagesHandlers = {
  viewOwnPage: async ({ db, params }) => viewOwnPage(db, params.id),

  changeOwnPage: async ({ db, params, body, actor }) => changeOwnPage(db, params.id, body, actor),

  viewPages: async ({ db, params, query }) => viewPages(db, params.id, query.record),

  startPages: async ({ db, params, actor }) => startPages(db, params.id, actor),

  changePages: async ({ db, params, body, actor }) => changePages(db, params.id, body, actor),

  ownPage: async ({ db, params }) => ownPage(db, params.token),

  fetchOwn: async ({ db, params, request, number }) => fetchOwn(db, params.token, request, number),

  recordPage: async ({ db, params, request }) => recordPage(db, params.id, request),
} satisfies Partial<Handlers>;

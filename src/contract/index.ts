/**
 * Everything that the server and its clients exchange. Routes have one namespace; the schemas are
 * next to them.
 */
import * as access from './access';
import * as api from './api';
import * as keys from './keys';
import * as checkpoints from './checkpoints';
import * as documents from './documents';
import * as guide from './guide';
import * as installation from './installation';
import * as intakes from './intakes';
import * as jobs from './jobs';
import * as links from './links';
import * as lists from './lists';
import * as mail from './mail';
import * as orders from './orders';
import * as pages from './pages';
import * as rounds from './rounds';
import * as runs from './runs';
import * as stamps from './stamps';
import * as webhooks from './webhooks';
import type { Route } from './route';

export * from './access';
export * from './api';
export * from './keys';
export * from './common';
export * from './checkpoints';
export * from './documents';
export * from './guide';
export * from './installation';
export * from './intakes';
export * from './jobs';
export * from './ledger';
export * from './links';
export * from './lists';
export * from './mail';
export * from './orders';
export * from './pages';
export * from './rounds';
export * from './runs';
export * from './stamps';
export * from './webhooks';
export * from './route';

const files = {
  ...access,
  ...api,
  ...checkpoints,
  ...documents,
  ...guide,
  ...installation,
  ...intakes,
  ...jobs,
  ...keys,
  ...links,
  ...lists,
  ...mail,
  ...orders,
  ...pages,
  ...rounds,
  ...runs,
  ...stamps,
  ...webhooks,
};

/** The type of every route, by its name. */
export type Routes = {
  [N in keyof typeof files as (typeof files)[N] extends Route ? N : never]: (typeof files)[N];
};

/** Every route with its name, for what walks over all of them. */
export const allRoutes: readonly (readonly [name: keyof Routes, route: Route])[] = Object.entries(
  files as Record<string, unknown>,
).filter((entry): entry is [keyof Routes, Route] => isRoute(entry[1]));

function isRoute(value: unknown): value is Route {
  return typeof value === 'object' && value !== null && 'path' in value && 'method' in value;
}

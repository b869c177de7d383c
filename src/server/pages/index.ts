/**
 * Record pages: what the pages of a list show, and the page of each record, for anyone who has its
 * address.
 */
export { changeOwnPage, fetchOwn, ownPage } from './own-page';
export { changePages, startPages, viewPages } from './page-sets';
export { recordPage } from './record-page';

/**
 * What programs of others ask of us, by a key: lists, records, codes, runs, links; in their words,
 * and described in OpenAPI.
 */
export { openApi } from './openapi';

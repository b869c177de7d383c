/** The API for programs with a key: lists, records, codes, runs, links; described in OpenAPI. */
export { openApi } from './openapi';

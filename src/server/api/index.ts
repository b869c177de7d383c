/**
 * What programs of others ask of us, by a key: lists, records, codes, runs, links; in their words,
 * and described in OpenAPI.
 */
export {
  apiChangeLink,
  apiChangeRecord,
  apiCode,
  apiCreateRecord,
  apiCreateRecords,
  apiJob,
  apiJobs,
  apiLink,
  apiLinks,
  apiLists,
  apiMakeLink,
  apiRecord,
  apiRecords,
  apiRemoveRecord,
  apiRun,
  apiRunFile,
  apiStartRun,
  linkTagOf,
  tagOf,
} from './answers';
export { openApi } from './openapi';

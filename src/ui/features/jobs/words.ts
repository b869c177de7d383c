/** The texts of this folder, by file. `{1}` is the first part of a text (see kit/with-parts). */

export const jobsPage = {
  jobs: 'Jobs',
  bringInRecordsFor: 'Bring in records for a new job',
  bringInASpreadsheet: 'Bring in a spreadsheet',
  noJobIsShared: 'No job is shared with you yet. Ask an administrator.',
  job: 'Job',
  list: 'List',
  printedOn: 'Printed on',
  records: 'Records',
  ready: 'Ready',
  needsALook: 'Needs a look',
  leftOut: 'Left out',
  lastRun: 'Last run',
  changed: 'Changed',
  noJobsYetTo:
    'No jobs yet. A job makes a code for each record of a list and puts it on badges, labels, signs or documents. {1} to start one.',
} as const;

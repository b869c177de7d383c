import { csvOfRun } from '../csv';
import type { OutputMaker } from '../maker';

export const csv: OutputMaker = {
  perRecord: async () => ({ parts: [], codes: [] }),
  assemble: async (run) => ({
    ending: '.csv',
    mime: 'text/csv; charset=utf-8',
    bytes: csvOfRun(run),
  }),
};

import { codePictures } from '../code-parts';
import type { OutputMaker } from '../maker';
import { zipOfRun } from '../zip';

export const images: OutputMaker = {
  perRecord: (frozen, record) => codePictures(frozen, record, frozen.output?.format ?? 'png'),
  assemble: async (run) => ({ ending: '.zip', mime: 'application/zip', bytes: zipOfRun(run) }),
};

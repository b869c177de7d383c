import { mergeOf } from '../../documents';
import { readPictures } from '../codes';
import type { OutputMaker } from '../maker';
import { zipOfRun } from '../zip';

/**
 * Documents that can be changed afterwards. Each code is read back from its picture in the
 * document.
 */
export const docxEach: OutputMaker = {
  begin: async (db, frozen) => {
    const merged = await mergeOf(db, frozen);
    return {
      one: async ({ name, values }) => {
        const document = merged(values);
        const codes = await readPictures(document.codes);
        return { parts: [{ name: `${name}.docx`, bytes: document.bytes }], codes };
      },
    };
  },
  assemble: async (run) => ({ ending: '.zip', mime: 'application/zip', bytes: zipOfRun(run) }),
};

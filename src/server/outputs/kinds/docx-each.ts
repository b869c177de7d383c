import { mergeOf } from '../../documents';
import { readPixels } from '../codes';
import type { MadeCode, OutputMaker } from '../maker';
import { zipOfRun } from '../zip';

/** Documents that can be changed afterwards; each code is read back from the picture that stands in it. */
export const docxEach: OutputMaker = {
  begin: async (db, frozen) => {
    const merged = await mergeOf(db, frozen);
    return {
      one: async ({ name, values }) => {
        const document = merged(values);
        const codes: MadeCode[] = [];
        for (const { stamp, symbol, payload, png } of document.codes) {
          const back = await readPixels(png, symbol);
          codes.push({
            stamp,
            payload,
            result: back.result,
            read: back.result === 'unread' ? null : back.text,
          });
        }
        return { parts: [{ name: `${name}.docx`, bytes: document.bytes }], codes };
      },
    };
  },
  assemble: async (run) => ({ ending: '.zip', mime: 'application/zip', bytes: zipOfRun(run) }),
};

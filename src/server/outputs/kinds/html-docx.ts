import { picturesIn, redated } from '../../../core/documents/package';
import type { FrozenRun } from '../../../core/job/document';
import { converted, pagesOf, textInLine, type MergedPage } from '../../documents';
import type { Database } from '../../platform';
import { readPictures } from '../codes';
import type { OutputMaker, RecordMaker } from '../maker';
import { zipOfRun } from '../zip';

/** Documents made of pages. Each code is read back from its picture in the finished document. */
export const htmlDocxEach: OutputMaker = {
  begin: async (db: Database, frozen: FrozenRun): Promise<RecordMaker> => {
    const page = await pagesOf(db, frozen);
    const pages: MergedPage[] = [];
    return {
      one: async ({ name, values }) => {
        const made = page(values);
        pages.push(made);
        const text = await textInLine(made.root);
        return { parts: [{ name: `${name}.docx`, bytes: Buffer.from(text) }], codes: [] };
      },
      together: async (made) => {
        const documents = await converted(
          made.map((record) => record.parts[0]!.bytes),
          'html to docx',
        );
        const records = [];
        for (const [i, { parts }] of made.entries()) {
          const bytes = redated(documents[i]!, new Date(frozen.date));
          const there = picturesIn(bytes);
          // a code that is missing from the finished document was not read
          const codes = pages[i]!.codes.map((code) => ({
            ...code,
            png: there.find((picture) => Buffer.compare(picture, code.png) === 0) ?? nothing,
          }));
          records.push({
            parts: [{ name: parts[0]!.name, bytes }],
            codes: await readPictures(codes),
          });
        }
        return records;
      },
    };
  },
  assemble: async (run) => ({ ending: '.zip', mime: 'application/zip', bytes: zipOfRun(run) }),
};

/** One white dot (PNG). */
const nothing = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAAAAAA6fptVAAAACklEQVR4nGP4DwABAQEAsXXQKgAAAABJRU5ErkJggg==',
  'base64',
);

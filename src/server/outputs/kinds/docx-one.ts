import { Zip, ZipDeflate, ZipPassThrough } from 'fflate';
import type { JoinedMedia, JoinedRecord } from '../../../core/documents';
import { joinOf } from '../../documents';
import { readPictures } from '../codes';
import { itemsOf } from '../items';
import type { OutputMaker, RunToAssemble } from '../maker';

const textName = 'record.json';

/** One document of all: the contribution of each record is stored until all are there. */
export const docxOne: OutputMaker = {
  begin: async (db, frozen) => {
    const { record } = await joinOf(db, frozen);
    return {
      one: async ({ seq, values }) => {
        const made = record(seq, values);
        const codes = await readPictures(made.codes);
        return {
          parts: [
            { name: textName, bytes: Buffer.from(JSON.stringify(made.record)) },
            ...[...made.media].map(([name, bytes]) => ({ name, bytes })),
          ],
          codes,
        };
      },
    };
  },
  assemble: async (run) => ({
    ending: '.docx',
    mime: 'application/vnd.openxmlformats-officedocument.wordprocessingml.document',
    bytes: joined(run),
  }),
};

async function* recordsOf({
  db,
  runId,
}: RunToAssemble): AsyncGenerator<{ record: JoinedRecord; media: JoinedMedia }> {
  for await (const { parts } of itemsOf(db, runId)) {
    const [text, ...media] = parts;
    yield {
      record: JSON.parse(text!.bytes.toString()) as JoinedRecord,
      media: new Map(media.map(({ name, bytes }) => [name, bytes])),
    };
  }
}

async function* joined(run: RunToAssemble): AsyncGenerator<Uint8Array> {
  const { join } = await joinOf(run.db, run.frozen);
  const { count } = await run.db
    .selectFrom('run_items')
    .select((e) => e.fn.countAll<number>().as('count'))
    .where('run_id', '=', run.runId)
    .executeTakeFirstOrThrow();
  let ready: Uint8Array[] = [];
  let failed: Error | undefined;
  const zip = new Zip((error, data) => {
    if (error) failed = error;
    else ready.push(data);
  });
  const mtime = new Date(run.frozen.date);
  for await (const { path, bytes } of join.files(count, () => recordsOf(run))) {
    const file = /\.(png|jpe?g|gif)$/i.test(path) ? new ZipPassThrough(path) : new ZipDeflate(path);
    file.mtime = mtime;
    zip.add(file);
    for await (const part of bytes) {
      file.push(part);
      if (failed) throw failed;
      yield* ready;
      ready = [];
    }
    file.push(new Uint8Array(), true);
  }
  zip.end();
  yield* ready;
}

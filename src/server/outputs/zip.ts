import { safeFileName } from '../../core/run/plan';
import { Zip, ZipPassThrough } from 'fflate';
import { csvOfRun } from './csv';
import { itemsOf } from './items';
import type { RunToAssemble } from './maker';

/**
 * All files of a run in one ZIP, in a folder of its own, so that no name clashes with another
 * run's. Dates are the run's.
 */
export async function* zipOfRun(run: RunToAssemble): AsyncGenerator<Uint8Array> {
  const { db, runId, frozen } = run;
  const folder = safeFileName(run.title);
  let ready: Uint8Array[] = [];
  let failed: Error | undefined;
  const zip = new Zip((error, data) => {
    if (error) failed = error;
    else ready.push(data);
  });
  const mtime = new Date(frozen.date);
  const add = (name: string, bytes: Uint8Array) => {
    const file = new ZipPassThrough(`${folder}/${name}`);
    file.mtime = mtime;
    zip.add(file);
    file.push(bytes, true);
  };
  for await (const { parts } of itemsOf(db, runId)) {
    for (const part of parts) add(part.name, part.bytes);
    if (failed) throw failed;
    yield* ready;
    ready = [];
  }
  add('list.csv', new Uint8Array(Buffer.concat(await collect(csvOfRun(run)))));
  zip.end();
  yield* ready;
}

async function collect(parts: AsyncIterable<Uint8Array>): Promise<Uint8Array[]> {
  const all: Uint8Array[] = [];
  for await (const part of parts) all.push(part);
  return all;
}

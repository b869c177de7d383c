import { contentFit, contentOf } from '../../core/payload/stamp';
import { saysSecret } from '../../core/payload/secrets';
import { outputOf, usualOutput } from '../../core/run/outputs';
import { csvLines } from '../platform';
import { itemsOf, taken } from './items';
import type { RunToAssemble } from './maker';

/** The list as CSV: its columns, the content of each code, and the names of its files. */
export async function* csvOfRun({ db, runId, frozen }: RunToAssemble): AsyncGenerator<Uint8Array> {
  const columns = taken(frozen);
  const stamps = frozen.stamps.filter(
    (s) => frozen.output?.secrets || !saysSecret(s, frozen.columns),
  );
  const files = outputOf(frozen.output?.kind ?? usualOutput).zipped;
  const headings = [
    ...columns.map((c) => c.name),
    ...stamps.map((s) => `${s.name}, payload`),
    ...(files ? ['Files'] : []),
  ];
  yield Buffer.from(csvLines([headings], { bom: true }));
  for await (const { values, parts } of itemsOf(db, runId)) {
    const payloads = stamps.map((stamp) => {
      const content = contentOf(stamp, values);
      return content.state === 'said' && contentFit(stamp, content).fits ? content.payload : '';
    });
    yield Buffer.from(
      csvLines([
        [
          ...columns.map((c) => values[c.id] ?? ''),
          ...payloads,
          ...(files ? [parts.map((p) => p.name).join('; ')] : []),
        ],
      ]),
    );
  }
}

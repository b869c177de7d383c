import { docx, paragraph, run as textRun } from '../../../demo/docx';
import { keepDocument } from '../../../src/server/documents';
import { changeJob, viewJob } from '../../../src/server/jobs';
import { settingsSchema } from '../../../src/contract';
import { afterAll, beforeAll, expect, test } from 'vitest';
import {
  checkRoom,
  readKept,
  takeAwayTheOld,
  writeKept,
} from '../../../src/server/platform/retention';
import { startRun } from '../../../src/server/runs/runs';
import { viewRun } from '../../../src/server/runs/run-views';
import {
  readSettings,
  settingsInWords,
  writeSettings,
} from '../../../src/server/platform/settings';
import { askIntake } from '../../../src/server/sources/reread';
import { testDatabase, type TestDatabase } from '../../helpers/database';
import { runsIn } from '../../helpers/runs';

let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
});
afterAll(() => t.close());
const { job, run } = runsIn(() => t);

const ago = (days: number) => new Date(Date.now() - days * 24 * 3600_000);

test('what was kept long enough goes, the rest stays, and a run says since when its files are gone', async () => {
  const { id } = await job(
    ['No', 'Name'],
    ['key', 'name'],
    [
      ['1', 'Wren'],
      ['2', 'Tam'],
    ],
  );
  const [old, young] = [await run(id), await run(id)];
  await t.db
    .updateTable('runs')
    .set({ finished_at: ago(40) })
    .where('id', '=', old)
    .execute();
  await t.db
    .updateTable('letters')
    .set({ written_at: ago(400) })
    .where('run_id', '=', old)
    .execute();
  const origin = { kind: 'file' as const, name: 'a.csv', headerRow: 0 };
  const ask = () =>
    askIntake(t.db, { name: 'a.csv', bytes: Buffer.from('No\n1\n'), origin, actor: 'test' });
  const [left, waiting] = [await ask(), await ask()];
  await t.db
    .updateTable('intakes')
    .set({ state: 'failed', created_at: ago(31) })
    .where('id', '=', left)
    .execute();
  await t.db
    .updateTable('intakes')
    .set({ created_at: ago(31) })
    .where('id', '=', waiting)
    .execute();
  await takeAwayTheOld(t.db);
  // files are kept a year, as nobody said otherwise
  expect((await viewRun(t.db, old)).files).toHaveLength(2);
  expect(
    (await t.db.selectFrom('letters').select('run_id').execute()).map((l) => l.run_id),
  ).toEqual([young]);
  expect((await t.db.selectFrom('intakes').select('id').execute()).map((i) => i.id)).toEqual([
    await waiting,
  ]);
  await writeKept(t.db, { files: 30 }, undefined);
  await takeAwayTheOld(t.db);
  const [gone, here] = [await viewRun(t.db, old), await viewRun(t.db, young)];
  expect([gone.files, gone.codes, gone.state]).toEqual([[], 2, 'done']);
  expect(gone.filesGone).not.toBeNull();
  expect([here.files.length, here.filesGone]).toEqual([2, null]);
  const { rowCount } = await t.pool.query(
    'select from file_pieces p where not exists (select from files f where f.id = p.file_id)',
  );
  expect(rowCount).toBe(0);
  await writeKept(t.db, { files: 0 }, undefined);
  await t.db
    .updateTable('runs')
    .set({ finished_at: ago(4000) })
    .where('id', '=', young)
    .execute();
  await takeAwayTheOld(t.db);
  expect((await viewRun(t.db, young)).files).toHaveLength(2);
});

test('two who set something at once undo nothing of each other’s', async () => {
  await writeSettings(t.db, settingsSchema.parse({ doorPrivate: false, wholeGb: 50 }));
  await Promise.all(
    [{ doorPrivate: true }, { wholeGb: 20 }, { kept: { letters: 30 } }, { kept: { scans: 7 } }].map(
      (change) => writeSettings(t.db, settingsSchema.parse(change)),
    ),
  );
  const now = await readSettings(t.db);
  expect(now.doorPrivate).toBe(true);
  expect(now.whole.gb).toBe(20);
  expect([now.kinds.letters.days, now.kinds.scans.days]).toEqual([30, 7]);
  // nothing said is nothing changed
  await writeSettings(t.db, settingsSchema.parse({}));
  expect(await readSettings(t.db)).toMatchObject({ doorPrivate: true, whole: { gb: 20 } });
});

test('what was set is told in words, for the journal', () => {
  const told = (change: object) => settingsInWords(settingsSchema.parse(change));
  expect(told({ doorPrivate: true })).toBe('also servers in our own network');
  expect(told({ doorPrivate: false, wholeGb: 5 })).toBe('public servers only; up to 5 GB');
  expect(told({ kept: { letters: 7, files: 0 } })).toBe(
    'Files of runs: kept without limit; The Out-tray: kept for 7 days',
  );
});

test('settings are checked, told with what each takes, and the whole has a bound', async () => {
  await writeSettings(
    t.db,
    settingsSchema.parse({ doorPrivate: true, kept: { letters: 7 }, wholeGb: 5 }),
  );
  const settings = await readSettings(t.db);
  expect(settings).toMatchObject({
    doorPrivate: true,
    kinds: { letters: { days: 7 }, answers: { days: 90 } },
    whole: { gb: 5 },
  });
  expect(settings.kinds.files.bytes).toBeGreaterThan(1000);
  expect(settings.whole.bytes).toBeGreaterThan(settings.kinds.files.bytes);
  for (const wrong of [{ kept: { letters: 3 } }, { kept: { runs: 7 } }, { wholeGb: 0 }])
    expect(settingsSchema.safeParse({ doorPrivate: true, ...wrong }).success).toBe(false);
  await checkRoom(t.db);
  // a bound below what there is, as when the disk has been filled by others
  await t.db
    .updateTable('settings')
    .set({ value: '0.001' })
    .where('name', '=', 'kept.whole-gb')
    .execute();
  const { id } = await job(['No'], ['key'], [['1']]);
  await expect(startRun(t.db, id, { name: 'x', which: 'with-code' }, 'test')).rejects.toMatchObject(
    {
      status: 507,
      message: expect.stringMatching(
        /^Hand Stamp uses 0\.\d GB, and Settings allow 0.001 GB\./,
      ) as string,
    },
  );
  expect((await readKept(t.db)).whole.gb).toBe(0.001);
});

test('documents that nothing uses go, those of a job, of an earlier version and of a run stay', async () => {
  const { id } = await job(['No', 'Name'], ['key', 'name'], [['1', 'Wren']]);
  const keep = async (words: string) =>
    (
      await keepDocument(
        t.db,
        `${words}.docx`,
        Buffer.from(docx({ body: paragraph(textRun(words)) })),
        'test',
      )
    ).id;
  const use = async (document: number) => {
    const { version, document: whole } = await viewJob(t.db, id);
    const ground = {
      kind: 'document' as const,
      document,
      name: 'x',
      places: [],
      codes: [],
      blocks: [],
    };
    await changeJob(
      t.db,
      id,
      { version, document: { ...whole, piece: { ...whole.piece, ground } } },
      'test',
    );
  };
  // the bound on the whole that the test before has set holds for documents too
  await expect(keep('too much')).rejects.toThrow(/Settings allow/);
  await writeKept(t.db, {}, 20);
  const [unused, before, now, young] = [
    await keep('unused'),
    await keep('before'),
    await keep('now'),
    await keep('young'),
  ];
  await use(before);
  await use(now);
  await t.db
    .updateTable('documents')
    .set({ created_at: ago(91) })
    .where('id', '<>', young)
    .execute();
  const here = async () =>
    (await t.db.selectFrom('documents').select('id').orderBy('id').execute()).map((d) => d.id);
  expect(await here()).toEqual([unused, before, now, young]);
  await takeAwayTheOld(t.db);
  expect(await here()).toEqual([before, now, young]);
  const pieces = await t.db.selectFrom('document_pieces').select('document_id').execute();
  expect(pieces.map((p) => p.document_id)).not.toContain(unused);
});

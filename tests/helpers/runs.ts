import { type NewRun } from '../../src/contract';
import { runOnce, type TaskList } from 'graphile-worker';
import type { Column } from '../../src/core/records/columns';
import { readFilePieces } from '../../src/server/platform/files';
import { rejudgeList } from '../../src/server/judging/judge';
import { createJob, createList } from '../../src/server/lists/lists';
import { renewList } from '../../src/server/lists/working';
import { viewRun } from '../../src/server/runs/run-views';
import { startRun } from '../../src/server/runs/runs';
import { assembleRun, runChunk } from '../../src/server/runs/making';
import { allTasks, performTask } from '../../src/server/tasks/registry';
import type { TestDatabase } from './database';

export interface TestJob {
  id: number;
  list: number;
  columns: Column[];
}

/** Works off all that waits in a test's queue, whatever task it is. */
export const workOff = ({ db, pool }: Pick<TestDatabase, 'db' | 'pool'>) =>
  runOnce({
    pgPool: pool,
    taskList: Object.fromEntries(
      [...allTasks().keys()].map((name) => [
        name,
        (payload: unknown) => performTask(db, name, payload),
      ]),
    ),
  });

/** Lists, jobs and runs in a test's database, worked off in its own process. */
export function runsIn(database: () => TestDatabase) {
  const tasks: TaskList = {
    'run.chunk': async (p) =>
      runChunk(database().db, (p as { run: number }).run, (p as { chunk: number }).chunk),
    'run.assemble': async (p) => assembleRun(database().db, (p as { run: number }).run),
  };
  const work = () => runOnce({ pgPool: database().pool, taskList: tasks });
  return {
    work,
    /** Has the lists renewed that a change elsewhere put into the queue. */
    renew: () =>
      runOnce({
        pgPool: database().pool,
        taskList: {
          'list.renew': async (p) => renewList(database().db, (p as { list: number }).list),
        },
      }),
    async job(
      headings: readonly string[],
      roles: Column['role'][],
      rows: readonly (readonly string[])[],
      name = 'Badges',
    ): Promise<TestJob> {
      const { db } = database();
      const list = await createList(db, {
        name: 'People',
        source: 'p.csv',
        headings,
        roles,
        rows,
        note: '',
        actor: 'test',
      });
      const id = await createJob(db, name, list.id, list.columns, 'test');
      await rejudgeList(db, list.id);
      return { id, list: list.id, columns: list.columns };
    },
    /** Starts a run and works it off. */
    async run(jobId: number, wanted: Partial<NewRun> = {}): Promise<number> {
      const id = await startRun(
        database().db,
        jobId,
        { name: 'Weekend', which: 'with-code', ...wanted },
        'test',
      );
      await work();
      return id;
    },
    /** The bytes of the run's file with an ending. */
    async bytesOf(runId: number, ending: string): Promise<Buffer> {
      const { db } = database();
      const { files } = await viewRun(db, runId);
      const parts: Uint8Array[] = [];
      for await (const part of readFilePieces(db, files.find((f) => f.name.endsWith(ending))!.id))
        parts.push(part);
      return Buffer.concat(parts);
    },
  };
}

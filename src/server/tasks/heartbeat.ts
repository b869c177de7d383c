import { workerData } from 'node:worker_threads';
import pg from 'pg';

/**
 * A separate thread that reports that the worker is alive, however busy it is, and frees the tasks
 * of dead workers. Only a worker whose own thread has been stuck for a very long time is given up,
 * and ends.
 */
export interface HeartbeatData {
  url: string;
  /** Names of this worker's pools in the queue. */
  pools: string[];
  /** When the worker's own thread last came to itself, in seconds of `Date.now()`. */
  awake: Int32Array;
}

const { url, pools, awake } = workerData as HeartbeatData;
const every = 2000;
/** A worker without a heartbeat for this long, in seconds, is dead. */
const lostAfter = 8;
/** For so long, in seconds, a worker's own thread may be busy with one thing. */
const longestBusy = 15 * 60;

const client = new pg.Client(url);
client.on('error', () => process.exit(1));
await client.connect();

async function beat(): Promise<void> {
  // eslint-disable-next-line no-restricted-syntax -- two threads of one machine
  if (Date.now() / 1000 - Atomics.load(awake, 0) > longestBusy)
    process.kill(process.pid, 'SIGKILL');
  await client.query(
    'insert into workers (id, seen_at) select id, now() from unnest($1::text[]) id on conflict (id) do update set seen_at = now()',
    [pools],
  );
  // first freed, then forgotten: whatever happens in between, they are freed again
  const { rows } = await client.query<{ id: string }>(
    `select id from workers where seen_at < now() - ${lostAfter} * interval '1 second'`,
  );
  if (rows.length === 0) return;
  const lost = rows.map((row) => row.id);
  await client.query('select graphile_worker.force_unlock_workers($1::text[])', [lost]);
  await client.query(
    "delete from workers where id = any($1::text[]) and seen_at < now() - $2 * interval '1 second'",
    [lost, lostAfter],
  );
}

// without its database the thread ends, and the worker with it
for (;;) {
  await beat();
  await new Promise((resolve) => setTimeout(resolve, every));
}

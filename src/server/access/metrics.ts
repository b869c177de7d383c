import { sql } from 'kysely';
import { Gauge, Histogram, Registry } from 'prom-client';
import type { Route } from '../../contract';
import { type Database, oncePerProcess } from '../platform';

interface Metrics {
  registry: Registry;
  answers: Histogram<'route' | 'method' | 'status'>;
}

/** What this process counts. */
const metrics = () => oncePerProcess('access.metrics', countedHere);

function countedHere(): Metrics {
  const registry = new Registry();
  const answers = new Histogram({
    name: 'hand_stamp_answer_seconds',
    help: 'Seconds that answers of this process took, by route, method and status.',
    labelNames: ['route', 'method', 'status'],
    buckets: [0.005, 0.02, 0.05, 0.1, 0.3, 1, 3, 10, 60],
    registers: [registry],
  });
  return { registry, answers };
}

/**
 * Starts to measure an answer. Call the returned function with the result; it returns the seconds.
 */
export function measured(route: Route): (status: number) => number {
  const end = metrics().answers.startTimer({ route: route.path, method: route.method });
  return (status) => end({ status: String(status) });
}

/**
 * The counts of this process, and the state of queue, workers, runs and read-back for all
 * processes, from the database (Prometheus text format 0.0.4).
 */
export async function metricsText(db: Database): Promise<{ text: string; type: string }> {
  const registry = new Registry();
  const gauge = (name: string, help: string, value: number) =>
    new Gauge({ name: `hand_stamp_${name}`, help, registers: [registry] }).set(value);
  const { rows } = await sql<Record<Standing, number | null>>`
    select
      (select count(*) from graphile_worker.jobs)::int as waiting,
      (select coalesce(extract(epoch from now() - min(run_at)), 0) from graphile_worker.jobs
        where locked_at is null and run_at <= now())::float as longest,
      (select count(*) from workers)::int as workers,
      (select count(*) from runs where state in ('waiting', 'running'))::int as runs,
      (select coalesce(sum(codes_read), 0) from runs)::bigint as read,
      (select coalesce(sum(codes_failed), 0) from runs)::bigint as failed,
      (select sum(pieces_made) / nullif(sum(extract(epoch from finished_at - started_at)), 0)
        from runs where finished_at > now() - interval '1 hour'
          and started_at is not null)::float as speed,
      (select count(*) from sessions where expires_at > now())::int as sessions,
      pg_database_size(current_database()) as bytes`.execute(db);
  const now = rows[0]!;
  gauge(
    'queue_tasks',
    'Tasks in the queue, those that are being done among them.',
    now.waiting ?? 0,
  );
  gauge(
    'queue_oldest_seconds',
    'How long the task that waits longest has waited.',
    now.longest ?? 0,
  );
  gauge('workers', 'Worker processes that are there.', now.workers ?? 0);
  gauge('runs_going', 'Runs that wait or are made.', now.runs ?? 0);
  gauge('codes_read', 'Codes of kept runs that were read back.', now.read ?? 0);
  gauge(
    'codes_failed',
    'Codes of kept runs that did not read, or read otherwise.',
    now.failed ?? 0,
  );
  gauge('pieces_per_second', 'Pieces a second of the runs of the last hour.', now.speed ?? 0);
  gauge('sessions', 'Sessions that are good.', now.sessions ?? 0);
  gauge('database_bytes', 'What the database takes.', now.bytes ?? 0);
  const text = [await registry.metrics(), await metrics().registry.metrics()].join('\n');
  return { text, type: 'text/plain; version=0.0.4; charset=utf-8' };
}

type Standing =
  'waiting' | 'longest' | 'workers' | 'runs' | 'read' | 'failed' | 'speed' | 'sessions' | 'bytes';

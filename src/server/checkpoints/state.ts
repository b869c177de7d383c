import { sql } from 'kysely';
import type { z } from 'zod';
import type { checkpointState } from '../../contract';
import { sessionAt } from '../../core/checkpoint/rule';
import type { Device } from '../access';
import { clock, type Database, isDemo } from '../platform';
import { countsOf, sessionsOf } from './board';
import { checkpointAt } from './rows';

/**
 * What a device shows beside its scans, and codes that it and another device let in while offline.
 */
export async function stateFor(
  db: Database,
  checkpoint: number,
  device: Device | undefined,
  after: number,
): Promise<z.output<typeof checkpointState.answer>> {
  const at = await checkpointAt(db, checkpoint);
  const session = sessionAt(at.rule.session, clock.now());
  const [film, sessions, counts, ends, twice] = await Promise.all([
    isDemo(db),
    sessionsOf(db, at),
    countsOf(db, at, session),
    device
      ? db
          .selectFrom('checkpoint_devices')
          .select('ends_at')
          .where('id', '=', device.id)
          .executeTakeFirst()
      : undefined,
    device
      ? sql<{ id: number; title: string; at: Date; other_at: Date; who: string; where: string }>`
          select s.id, s.title, mine.at, other.at as other_at, other.who, c.name as where
          from checkpoint_scans s join checkpoint_scans t on t.id = s.twice_with
            join lateral (select case when s.device_id = ${device.id} then s.id
              else t.id end as own) w on true
            join checkpoint_scans mine on mine.id = w.own
            join checkpoint_scans other on other.id = case when w.own = s.id then t.id else s.id end
            join checkpoints c on c.id = other.checkpoint_id
          where s.id > ${after} and (s.device_id = ${device.id} or t.device_id = ${device.id})
            order by s.id limit 20`.execute(db)
      : undefined,
  ]);
  return {
    name: at.name,
    device: device?.name ?? null,
    ends: ends?.ends_at.toISOString() ?? null,
    session,
    sessions,
    ...counts,
    now: clock.now(),
    version: at.version,
    film,
    twice: (twice?.rows ?? []).map((row) => ({
      id: row.id,
      title: row.title,
      at: row.at.toISOString(),
      other: { at: row.other_at.toISOString(), who: row.who, where: row.where },
    })),
  };
}

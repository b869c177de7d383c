import { doorTrouble, hostOf, type DoorTrouble } from '../core/payload/door';
import { contentOf } from '../core/payload/stamp';
import type { Database } from './db';
import { Refusal } from './refusal';

export interface DoorHost {
  host: string;
  records: number;
  /** One of its addresses, to look at. */
  sample: string;
  trouble?: DoorTrouble;
}

const batch = 5000;

/** The hosts that the codes of a stamp lead to, the troubled ones first, without asking any of them. */
export async function doorHosts(db: Database, jobId: number, stampId: string): Promise<DoorHost[]> {
  const job = await db.selectFrom('jobs').select(['list_id', 'document']).where('id', '=', jobId).executeTakeFirstOrThrow();
  const stamp = job.document.stamps.find((s) => s.id === stampId);
  if (!stamp) throw new Refusal('That stamp is not here any more.', 404);
  const hosts = new Map<string, DoorHost>();
  for (let after = -1; ;) {
    const records = await db
      .selectFrom('records')
      .select(['position', 'values'])
      .where('list_id', '=', job.list_id)
      .where('position', '>', after)
      .orderBy('position')
      .limit(batch)
      .execute();
    for (const { values } of records) {
      const content = contentOf(stamp, values);
      if (content.state !== 'said') continue;
      const trouble = doorTrouble(content.payload);
      // what has no host is told apart by its trouble alone
      const host = trouble?.kind === 'no-scheme' || trouble?.kind === 'unreadable' ? trouble.kind : hostOf(content.payload);
      const known = hosts.get(host);
      if (known) known.records++;
      else
        hosts.set(host, {
          host: trouble && host === trouble.kind ? content.payload.slice(0, 60) : host,
          records: 1,
          sample: content.payload,
          trouble,
        });
    }
    if (records.length < batch) break;
    after = records.at(-1)!.position;
  }
  return [...hosts.values()].sort((a, b) => Number(Boolean(b.trouble)) - Number(Boolean(a.trouble)) || b.records - a.records).slice(0, 200);
}

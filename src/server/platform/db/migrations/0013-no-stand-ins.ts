import { sql, type Kysely } from 'kysely';

/**
 * The printers that 0003 put there are the demo's, which brings its own; those that were used or
 * changed stay.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`
    delete from printers p
    where (p.name, p.dpi) in (('Stand-in for office paper', 600), ('Stand-in for labels', 300))
      and p.offset_x = 0 and p.offset_y = 0 and p.finest_dots is null
      and not exists (select from print_jobs j where j.printer_id = p.id)
      and not exists (select from runs r where (r.frozen->>'printer')::int = p.id)`.execute(db);
}

import { sql, type Kysely } from 'kysely';

const roleOf = `case "right" when 'scans' then 'scanner' when 'looks' then 'viewer'
  when 'changes' then 'editor' when 'keeps' then 'administrator' else "right" end`;

/** Roles are stored by the names that people read: scanner, viewer, editor, administrator. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `
    alter table people drop constraint people_right_check;
    update people set "right" = ${roleOf};
    alter table people add constraint people_right_check
      check ("right" in ('scanner', 'viewer', 'editor', 'administrator'));

    update welcomes set "right" = ${roleOf} where "right" is not null;

    alter table shares drop constraint shares_right_check;
    update shares set "right" = ${roleOf};
    alter table shares add constraint shares_right_check check ("right" in ('viewer', 'editor'));
  `,
    )
    .execute(db);
}

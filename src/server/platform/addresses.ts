import { configuration } from './configuration';
import type { Database } from './db';

/** Under which addresses people reach this installation: origins, without a path. */
export interface OurAddresses {
  /** Pages, pictures, invitations. */
  base: string;
  /** Links, if they have a host of their own. */
  links: string;
  /**
   * Who set the base: the start command (`HAND_STAMP_URL`), Settings, or nobody, so that it is this
   * computer.
   */
  from: 'start' | 'settings' | 'machine';
  /** Earlier addresses, which printed codes may contain. */
  former: string[];
}

const names = { base: 'address.base', links: 'address.links', former: 'address.former' } as const;

/**
 * The current addresses. Everything that makes an address gets it from here, and never from a
 * request.
 */
export async function ourAddresses(db: Database): Promise<OurAddresses> {
  const rows = await db
    .selectFrom('settings')
    .selectAll()
    .where('name', 'in', Object.values(names))
    .execute();
  const kept = (name: string) => rows.find((r) => r.name === name)?.value || undefined;
  const { HAND_STAMP_URL, HAND_STAMP_PORT } = configuration();
  const started = HAND_STAMP_URL && new URL(HAND_STAMP_URL).origin;
  const base = started ?? kept(names.base) ?? `http://localhost:${HAND_STAMP_PORT ?? 3000}`;
  return {
    base,
    links: kept(names.links) ?? base,
    from: started ? 'start' : kept(names.base) ? 'settings' : 'machine',
    former: JSON.parse(kept(names.former) ?? '[]') as string[],
  };
}

/** The base of everything but links. */
export const baseAddress = async (db: Database): Promise<string> => (await ourAddresses(db)).base;

/** Hosts with their ports that lead to our links, now and before. In lower case. */
export const ourHosts = ({ base, links, former }: OurAddresses): Set<string> =>
  new Set([base, links, ...former].map((origin) => new URL(origin).host.toLowerCase()));

const most = 20;

/**
 * Sets other addresses and remembers the earlier ones. Blank: the base is this computer, and links
 * use the base.
 */
export async function writeAddresses(
  db: Database,
  next: { base: string; links: string },
): Promise<void> {
  const now = await ourAddresses(db);
  const put = (name: string, value: string) =>
    db
      .insertInto('settings')
      .values({ name, value })
      .onConflict((c) => c.column('name').doUpdateSet({ value }))
      .execute();
  await put(names.base, next.base);
  await put(names.links, next.links);
  const after = await ourAddresses(db);
  const former = [now.base, now.links, ...now.former].filter(
    (origin, i, all) =>
      all.indexOf(origin) === i && origin !== after.base && origin !== after.links,
  );
  await put(names.former, JSON.stringify(former.slice(0, most)));
}

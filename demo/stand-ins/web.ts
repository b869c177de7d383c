/**
 * A stand-in for the garden's web server: pages that open, and a few that trouble a coordinator.
 * Ships with the demo.
 */
import { createServer } from 'node:http';
import { sql } from 'kysely';
import { databaseUrl, openDatabase } from '../../src/server/platform/db';

/** Hosts that the stand-in answers for. */
const hosts = [
  'marrambay.example',
  'checkin.marrambay.example',
  'friends.marrambay.example',
  'loans.marrambay.example',
];

const server = createServer((request, response) => {
  const path = new URL(request.url ?? '/', 'http://stand-in.example').pathname;
  const page = (status: number, words: string, headers: Record<string, string> = {}) => {
    response.writeHead(status, { 'content-type': 'text/html; charset=utf-8', ...headers });
    response.end(`<!doctype html><meta charset="utf-8"><title>Marram Bay</title><p>${words}</p>`);
  };
  const number = Number(/(\d+)$/.exec(path)?.[1] ?? Number.NaN);
  if (path.startsWith('/plants/')) {
    if (number % 97 === 0) return page(404, 'This plant has no page.');
    if (number % 61 === 0)
      return page(301, 'Moved.', { location: `https://marrambay.example/garden${path}` });
    return page(200, `Plant ${number}`);
  }
  if (path.startsWith('/staff'))
    return page(302, 'Sign in first.', { location: 'https://marrambay.example/login' });
  return page(200, 'Marram Bay Botanic Garden and Seed Library');
});

server.listen(Number(process.env.HAND_STAMP_STAND_IN_PORT ?? 0), '127.0.0.1', () => {
  const address = server.address();
  if (!address || typeof address === 'string') return;
  const { db } = openDatabase(databaseUrl(), 1);
  const value = JSON.stringify(Object.fromEntries(hosts.map((host) => [host, address.port])));
  db.insertInto('settings')
    .values({ name: 'door.stand-ins', value })
    .onConflict((c) =>
      c.column('name').doUpdateSet({
        value: sql<string>`(settings.value::jsonb || excluded.value::jsonb)::text`,
      }),
    )
    .execute()
    .then(() => db.destroy())
    .catch((error: unknown) => {
      console.error(error);
      process.exit(1);
    });
});
process.on('SIGTERM', () => process.exit(0));
process.on('SIGINT', () => process.exit(0));

import { route } from '@/server/platform/http';
import { listLetters } from '@/server/delivery/letters';

export const GET = route(async ({ db }) => ({ letters: await listLetters(db) }));

import { route } from '@/server/http';
import { listLetters } from '@/server/letters';

export const GET = route(async ({ db }) => ({ letters: await listLetters(db) }));

import { route } from '@/server/platform';
import { listLetters } from '@/server/delivery';

export const GET = route(async ({ db }) => ({ letters: await listLetters(db) }));

import { fetchOwn, ownPage } from '@/contract';
import { handle } from '@/server/access';
import { pagesHandlers } from '@/server/pages/handlers';

export const GET = handle(ownPage, pagesHandlers.ownPage);

export const POST = handle(fetchOwn, pagesHandlers.fetchOwn);

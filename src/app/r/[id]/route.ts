import { recordPage } from '@/contract';
import { handle } from '@/server/access';
import { pagesHandlers } from '@/server/pages/handlers';

export const GET = handle(recordPage, pagesHandlers.recordPage);

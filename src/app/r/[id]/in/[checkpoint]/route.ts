import { checkInByOneself, checkInPage } from '@/contract';
import { handle } from '@/server/access';
import { checkpointsHandlers } from '@/server/checkpoints/handlers';

export const GET = handle(checkInPage, checkpointsHandlers.checkInPage);

export const POST = handle(checkInByOneself, checkpointsHandlers.checkInByOneself);

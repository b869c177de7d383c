import { defineTask } from '../platform';
import { judgeListCard, judgePieceCard } from './cards';
import { judgeListNow, judgePieceNow } from './judge';

export const judgingTasks = [
  defineTask(judgeListCard, (db, p) => judgeListNow(db, p.list)),
  defineTask(judgePieceCard, (db, p) => judgePieceNow(db, p.job)),
];

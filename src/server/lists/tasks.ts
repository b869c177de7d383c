import { renewJobCard, renewListCard } from '../judging';
import { defineTask } from '../platform';
import { workOutCard } from './cards';
import { renewJob, renewList, workOutNow } from './working';

export const listTasks = [
  defineTask(workOutCard, (db, p) => workOutNow(db, p.list)),
  defineTask(renewListCard, (db, p) => renewList(db, p.list)),
  defineTask(renewJobCard, (db, p) => renewJob(db, p.job)),
];

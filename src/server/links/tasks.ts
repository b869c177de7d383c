import { defineTask } from '../platform';
import { askDoorsCard } from './cards';
import { askDoors, stopAsking } from './door';

export const linkTasks = [
  defineTask(
    askDoorsCard,
    (db, p) => askDoors(db, p.job, p.stamp),
    (db, p) => stopAsking(db, p.job),
  ),
];

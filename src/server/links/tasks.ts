import { defineTask } from '../platform';
import { askLinks, askLinksCard, stopAskingLinks } from './asking';
import { askDoorsCard } from './cards';
import { askDoors, stopAsking } from './door';

export const linkTasks = [
  defineTask(
    askDoorsCard,
    (db, p) => askDoors(db, p.job, p.stamp),
    (db, p) => stopAsking(db, p.job),
  ),
  defineTask(
    askLinksCard,
    (db, p) => askLinks(db, p.since),
    (db, p) => stopAskingLinks(db, p.since),
  ),
];

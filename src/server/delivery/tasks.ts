import { defineTask } from '../platform';
import { printCard, sendMailsCard } from './cards';
import { giveUp, sendMails } from './mails';
import { giveUpPrint, stepPrint } from './printing';

export const deliveryTasks = [
  defineTask(
    sendMailsCard,
    (db, { run }) => sendMails(db, run),
    (db, { run }, why) => giveUp(db, run, why),
  ),
  defineTask(
    printCard,
    (db, { job }) => stepPrint(db, job),
    (db, { job }, why) => giveUpPrint(db, job, why),
  ),
];

import { defineTask } from '../platform';
import { sendMailsCard } from './cards';
import { giveUp, sendMails } from './mails';

export const deliveryTasks = [
  defineTask(
    sendMailsCard,
    (db, { run }) => sendMails(db, run),
    (db, { run }, why) => giveUp(db, run, why),
  ),
];

/**
 * One change of a list, in a process that can be killed in the middle of it: `one-step.ts <what>
 * <json>`.
 */
import { databaseUrl, openDatabase } from '../../src/server/platform/db';
import { editCells } from '../../src/server/lists/edits';
import { mend } from '../../src/server/lists/problems';
import { stepBack } from '../../src/server/lists/revisions';
import { sendMails } from '../../src/server/delivery/mails';
import { performTask } from '../../src/server/tasks/registry';

const { db } = openDatabase(databaseUrl(), 3);
const [what, text] = process.argv.slice(2);
const asked = JSON.parse(text!) as {
  list: number;
  record: number;
  intake: number;
  run: number;
};
const { list } = asked;
if (what === 'edit')
  await editCells(db, list, [{ record: asked.record, column: 'c1', value: '2' }], 'test');
else if (what === 'mails') await sendMails(db, asked.run);
else if (what === 'undo') await stepBack(db, list, 'undo', 'test');
else if (what === 're-read') await performTask(db, 'intake.take', { intake: asked.intake });
else await mend(db, list, 'spaces', undefined, 'test');
process.exit(0);

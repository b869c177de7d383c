import type { FrozenRun } from '../../core/job/document';
import { mailOf, mailWords } from '../../core/mail/mail';
import { titleColumn } from '../../core/records/columns';
import type { Database } from '../platform';
import type { NewMail } from '../delivery';
import { itemsOf } from '../outputs';

const batch = 100;

/** The mails of a run, a batch at a time. One with a code that does not read is held back. */
export async function* mailsOfRun(
  db: Database,
  job: number,
  runId: number,
  frozen: FrozenRun,
): AsyncGenerator<NewMail[]> {
  const mail = mailOf(frozen.mail, frozen.columns);
  const title = titleColumn(frozen.columns)?.id ?? '';
  const instead = frozen.output?.instead;
  const failed = new Set(
    (
      await db
        .selectFrom('receipts')
        .select('seq')
        .where('run_id', '=', runId)
        .where('result', '<>', 'read')
        .execute()
    ).map((row) => row.seq),
  );
  let mails: NewMail[] = [];
  for await (const { seq, record, values, parts } of itemsOf(db, runId)) {
    mails.push({
      kind: instead === undefined ? 'person' : 'trial',
      job,
      run: runId,
      seq,
      record,
      title: values[title] ?? '',
      address: (instead ?? values[mail.to ?? ''] ?? '').trim(),
      subject: mailWords(mail, values).subject,
      message: parts[0]!.bytes,
      ...(failed.has(seq) ? { held: 'Its code does not read, so it was not sent.' } : {}),
    });
    if (mails.length < batch) continue;
    yield mails;
    mails = [];
  }
  yield mails;
}

import { onGround } from '../../../core/grounds';
import type { FrozenRun } from '../../../core/job/document';
import { mailHtml, mailOf, mailWords, type MailPicture } from '../../../core/mail/mail';
import { unpack } from '../../../core/payload/unpack';
import { titleColumn } from '../../../core/records/columns';
import { stampsInMail } from '../../../core/run/outputs/mail-codes';
import { type Database, RunError } from '../../platform';
import { fileOf } from '../code-parts';
import { codeFile } from '../codes';
import { composeMail } from '../compose-mail';
import {
  type MadeCode,
  type MadeRecord,
  makerOf,
  type OutputMaker,
  type RecordMaker,
  type RecordToMake,
} from '../maker';
import { zipOfRun } from '../zip';

/** Mails as files; who hands them over is another matter. */
export const mail: OutputMaker = {
  begin: mails,
  assemble: async (run) => ({ ending: '.zip', mime: 'application/zip', bytes: zipOfRun(run) }),
};

async function mails(db: Database, frozen: FrozenRun): Promise<RecordMaker> {
  const written = mailOf(frozen.mail, frozen.columns);
  const inner = written.attach ? await makerFor(db, frozen, written.attach) : undefined;
  const records: RecordToMake[] = [];
  return {
    one: async (record) => {
      records.push(record);
      return inner ? inner.one(record) : { parts: [], codes: [] };
    },
    together: async (made) => {
      const attached = (await inner?.together?.(made)) ?? made;
      const finished: MadeRecord[] = [];
      for (const [i, record] of records.entries())
        finished.push(await mailOfRecord(frozen, record, attached[i]));
      return finished;
    },
  };
}

async function makerFor(db: Database, frozen: FrozenRun, kind: string): Promise<RecordMaker> {
  const { begin, perRecord } = makerOf(kind);
  if (begin) return begin(db, frozen);
  if (!perRecord)
    throw new RunError('What is attached to the mails is made of all records at once.');
  return { one: (record) => perRecord(frozen, record) };
}

/** On a screen a code smaller than this, in px, is hard to scan. */
const leastWidth = 180;

async function mailOfRecord(
  frozen: FrozenRun,
  { name, values }: RecordToMake,
  attached: MadeRecord,
): Promise<MadeRecord> {
  const written = mailOf(frozen.mail, frozen.columns);
  const { subject, paragraphs } = mailWords(written, values);
  const pictures: (MailPicture & { id: string; name: string; bytes: Uint8Array })[] = [];
  const codes: MadeCode[] = [...attached.codes];
  const borne = onGround(frozen.piece).stampsOn(frozen.piece);
  for (const stamp of stampsInMail(written, frozen.stamps, borne)) {
    const made = await codeFile(stamp, values, 'png');
    if (!made) continue;
    const width = Math.max(leastWidth, Math.round((stamp.look.sizeMm / 25.4) * 96));
    const id = `code-${pictures.length + 1}@hand-stamp`;
    pictures.push({
      id,
      src: `cid:${id}`,
      name: `${fileOf(name, stamp, frozen.stamps)}.png`,
      bytes: made.bytes,
      alt: `Code to scan: ${unpack(made.payload).does}`,
      width,
      height: Math.round(width * ratioOf(made.bytes)),
    });
    codes.push({
      stamp: stamp.id,
      payload: made.payload,
      result: made.back.result,
      read: made.back.result === 'unread' ? null : made.back.text,
    });
  }
  const to = frozen.output?.instead ?? values[written.to ?? ''] ?? '';
  const title = values[titleColumn(frozen.columns)?.id ?? ''] ?? '';
  const bytes = await composeMail({
    from: frozen.sender ?? { name: '', address: '' },
    to: { name: title.replace(/[\p{C}"<>]/gu, '').slice(0, 80), address: to.trim() },
    replyTo: written.replyTo,
    subject,
    text: paragraphs.join('\n\n') + '\n',
    html: mailHtml(paragraphs, pictures, written.codes),
    pictures,
    files: attached.parts,
    date: new Date(frozen.date),
  });
  return { parts: [{ name: `${name}.eml`, bytes: new Uint8Array(bytes) }], codes };
}

/** Height of a PNG by its width, from its header. */
function ratioOf(png: Uint8Array): number {
  const view = new DataView(png.buffer, png.byteOffset);
  return view.getUint32(20) / view.getUint32(16);
}

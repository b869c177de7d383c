import { DomUtils } from 'htmlparser2';
import { bodyOf, wordsOfHtml } from '../../../core/documents/html-fill';
import { pagesOf, textInLine } from '../../documents';
import { onGround } from '../../../core/grounds';
import type { FrozenRun } from '../../../core/job/document';
import { mailHtml, mailOf, mailWords, type MailPicture } from '../../../core/mail/mail';
import { unpack } from '../../../core/payload/unpack';
import { titleColumn } from '../../../core/records/columns';
import { stampsInMail } from '../../../core/run/outputs/mail-codes';
import type { Database } from '../../platform';
import { fileOf } from '../code-parts';
import { codeFile, readPictures } from '../codes';
import { composeMail } from '../compose-mail';
import {
  type MadeCode,
  type MadeRecord,
  type OutputMaker,
  type RecordMaker,
  type RecordMakerOf,
  type RecordToMake,
} from '../maker';
import { zipOfRun } from '../zip';

/** Mails as files; who hands them over is another matter. */
export const mail: OutputMaker = {
  begin: mails,
  assemble: async (run) => ({ ending: '.zip', mime: 'application/zip', bytes: zipOfRun(run) }),
};

async function mails(db: Database, frozen: FrozenRun, others: RecordMakerOf): Promise<RecordMaker> {
  const written = mailOf(frozen.mail, frozen.columns);
  const inner = written.attach ? await others(db, frozen, written.attach) : undefined;
  const body =
    frozen.piece.ground?.kind === 'html' && written.says !== 'words'
      ? await pageBody(db, frozen)
      : (record: RecordToMake) => wordsBody(frozen, record);
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
        finished.push(await mailOfRecord(frozen, record, attached[i]!, await body(record)));
      return finished;
    },
  };
}

interface InMail {
  id: string;
  name: string;
  bytes: Uint8Array;
}
/** The contents of an email, with its pictures and the codes among them, read back. */
interface MailBody {
  text: string;
  html: string;
  pictures: InMail[];
  codes: MadeCode[];
}

const contentId = (number: number): string => `picture-${number + 1}@hand-stamp`;

/** On a screen a code smaller than this, in px, is hard to scan. */
const leastWidth = 180;

/** A mail of words and codes. */
async function wordsBody(frozen: FrozenRun, { name, values }: RecordToMake): Promise<MailBody> {
  const written = mailOf(frozen.mail, frozen.columns);
  const { paragraphs } = mailWords(written, values);
  const pictures: InMail[] = [];
  const shown: MailPicture[] = [];
  const codes: MadeCode[] = [];
  const borne = onGround(frozen.piece).stampsOn(frozen.piece);
  for (const stamp of stampsInMail(written, frozen.stamps, borne)) {
    const made = await codeFile(stamp, values, 'png');
    if (!made) continue;
    const width = Math.max(leastWidth, Math.round((stamp.look.sizeMm / 25.4) * 96));
    const id = contentId(pictures.length);
    pictures.push({ id, name: `${fileOf(name, stamp, frozen.stamps)}.png`, bytes: made.bytes });
    shown.push({
      src: `cid:${id}`,
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
  return {
    text: paragraphs.join('\n\n') + '\n',
    html: mailHtml(paragraphs, shown, written.codes),
    pictures,
    codes,
  };
}

/** A mail that is the page of the record: its styles in line, its pictures inside the mail. */
async function pageBody(
  db: Database,
  frozen: FrozenRun,
): Promise<(record: RecordToMake) => Promise<MailBody>> {
  const page = await pagesOf(db, frozen);
  return async ({ values }) => {
    const { root, codes } = page(values);
    const known = new Map<string, InMail>();
    for (const picture of DomUtils.getElementsByTagName('img', root)) {
      const [, kind, bytes] =
        /^data:image\/([\w+]+);base64,(.*)$/s.exec(picture.attribs.src ?? '') ?? [];
      if (kind === undefined) continue;
      // mail programs do not show data URLs
      let one = known.get(picture.attribs.src!);
      if (!one) {
        const ending = kind.replace('+xml', '').replace('jpeg', 'jpg');
        one = {
          id: contentId(known.size),
          name: `picture-${known.size + 1}.${ending}`,
          bytes: Buffer.from(bytes!, 'base64'),
        };
        known.set(picture.attribs.src!, one);
      }
      picture.attribs.src = `cid:${one.id}`;
    }
    return {
      text: `${wordsOfHtml(bodyOf(root))}\n`,
      html: await textInLine(root),
      pictures: [...known.values()],
      codes: await readPictures(codes),
    };
  };
}

async function mailOfRecord(
  frozen: FrozenRun,
  { name, values }: RecordToMake,
  attached: MadeRecord,
  body: MailBody,
): Promise<MadeRecord> {
  const written = mailOf(frozen.mail, frozen.columns);
  const to = frozen.output?.instead ?? values[written.to ?? ''] ?? '';
  const title = values[titleColumn(frozen.columns)?.id ?? ''] ?? '';
  const bytes = await composeMail({
    from: frozen.sender ?? { name: '', address: '' },
    to: { name: title.replace(/[\p{C}"<>]/gu, '').slice(0, 80), address: to.trim() },
    replyTo: written.replyTo,
    subject: mailWords(written, values).subject,
    text: body.text,
    html: body.html,
    pictures: body.pictures,
    files: attached.parts,
    date: new Date(frozen.date),
  });
  return {
    parts: [{ name: `${name}.eml`, bytes: new Uint8Array(bytes) }],
    codes: [...attached.codes, ...body.codes],
  };
}

/** Height of a PNG by its width, from its header. */
function ratioOf(png: Uint8Array): number {
  const view = new DataView(png.buffer, png.byteOffset);
  return view.getUint32(20) / view.getUint32(16);
}

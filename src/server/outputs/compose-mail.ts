import { createHash } from 'node:crypto';
import MailComposer from 'nodemailer/lib/mail-composer';

export interface Composed {
  from: { name: string; address: string };
  to: { name: string; address: string };
  replyTo?: string;
  subject: string;
  text: string;
  html: string;
  /** Pictures in the email, each under its content id. */
  pictures: readonly { id: string; name: string; bytes: Uint8Array }[];
  files: readonly { name: string; bytes: Uint8Array }[];
  date: Date;
}

/** A mail with all that is in it (RFC 5322, 2045 to 2049, 2387). The same gives the same bytes. */
export async function composeMail(mail: Composed): Promise<Buffer> {
  const { from, to, replyTo, subject, text, html, date } = mail;
  const mark = createHash('sha256')
    .update(JSON.stringify([to, subject, text, html, date]))
    .digest('hex')
    .slice(0, 32);
  return new MailComposer({
    from,
    to,
    ...(replyTo ? { replyTo } : {}),
    subject,
    text,
    html,
    date,
    messageId: `<${mark}@hand-stamp.invalid>`,
    baseBoundary: mark,
    disableFileAccess: true,
    disableUrlAccess: true,
    attachments: [
      ...mail.pictures.map(({ id, name, bytes }) => ({
        cid: id,
        filename: name,
        content: Buffer.from(bytes),
        contentDisposition: 'inline' as const,
      })),
      ...mail.files.map(({ name, bytes }) => ({ filename: name, content: Buffer.from(bytes) })),
    ],
  })
    .compile()
    .build();
}

import { readdir, readFile, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { LRUCache } from 'lru-cache';
import type { EmailAddress, ParsedMail } from 'mailparser';
import type { OutTrayMessage } from '../../contract';
import { configuration, log, Refusal } from '../platform';

/** Latest messages that are shown. */
const shown = 40;
const heads = new LRUCache<string, OutTrayMessage>({ max: 500 });
const isMessage = (name: string): boolean => /^[\w.-]{1,120}\.eml$/.test(name);

/** What the test mail server received, the latest first; empty without a folder. */
export async function viewOutTray(): Promise<{
  folder: string | null;
  all: number;
  messages: OutTrayMessage[];
}> {
  const folder = configuration().HAND_STAMP_OUT_TRAY;
  if (!folder) return { folder: null, all: 0, messages: [] };
  // their names begin with when they came
  const names = (await readdir(folder).catch(() => [] as string[]))
    .filter(isMessage)
    .sort()
    .reverse();
  const messages = await Promise.all(names.slice(0, shown).map((name) => headOf(folder, name)));
  return { folder, all: names.length, messages: messages.filter((m) => m !== undefined) };
}

async function headOf(folder: string, name: string): Promise<OutTrayMessage | undefined> {
  const known = heads.get(name);
  if (known) return known;
  try {
    const path = join(folder, name);
    const { mtime, size } = await stat(path);
    const { simpleParser } = await import('mailparser');
    const mail = await simpleParser(await readFile(path), { skipTextToHtml: true });
    const to = Array.isArray(mail.to) ? mail.to : mail.to ? [mail.to] : [];
    const head: OutTrayMessage = {
      name,
      to: to.flatMap((t) => t.value.map(said)).join(', '),
      from: mail.from?.value.map(said).join(', ') ?? '',
      subject: mail.subject ?? '',
      at: mtime.toISOString(),
      size,
      files: filesOf(mail).map((file) => ({ name: file.filename ?? 'file', size: file.size })),
    };
    heads.set(name, head);
    return head;
  } catch (error) {
    log.warn({ err: error, name }, 'a message of the Out-tray could not be read');
    return undefined;
  }
}

const said = ({ name, address }: EmailAddress): string =>
  name ? `${name} <${address ?? ''}>` : (address ?? '');

/** Attachments, without the pictures inside the text. */
const filesOf = (mail: ParsedMail) => mail.attachments.filter((file) => !file.related);

async function parsed(name: string): Promise<ParsedMail> {
  const folder = configuration().HAND_STAMP_OUT_TRAY;
  if (!folder || !isMessage(name))
    throw new Refusal('This no longer exists. It may have been deleted.', 404);
  const bytes = await readFile(join(folder, name)).catch(() => {
    throw new Refusal('This notice no longer exists. Reload the page.', 404);
  });
  const { simpleParser } = await import('mailparser');
  return simpleParser(bytes, { skipTextLinks: true }).catch(() => {
    throw new Refusal(
      'This notice is damaged and cannot be shown. The files of the run are not affected.',
      422,
    );
  });
}

/**
 * An email as its reader sees it: a page with its pictures. The caller shows it in a locked frame.
 */
export async function viewMessage(name: string): Promise<string> {
  const mail = await parsed(name);
  return mail.html || mail.textAsHtml || '<p></p>';
}

export async function messageFile(
  name: string,
  number: number,
): Promise<{ name: string; bytes: Buffer }> {
  const file = filesOf(await parsed(name))[number];
  if (!file) throw new Refusal('This no longer exists. It may have been deleted.', 404);
  return { name: file.filename ?? 'file', bytes: file.content };
}

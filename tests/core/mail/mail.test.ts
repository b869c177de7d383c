import { expect, test } from 'vitest';
import { addressKey, addressTrouble } from '../../../src/core/mail/address';
import { mailHtml, mailOf, mailWords } from '../../../src/core/mail/mail';
import { stampsInMail } from '../../../src/core/run/outputs/mail-codes';
import { firstStamp } from '../../../src/core/payload/stamp';
import type { Column } from '../../../src/core/records/columns';

const columns: Column[] = [
  { id: 'c1', name: 'Badge', role: 'key' },
  { id: 'c2', name: 'Name', role: 'name' },
  { id: 'c3', name: 'E-mail', role: 'email' },
];

test.each([
  'ines@post.example',
  ' ines.okafor+badge@mail.post.example ',
  "o'hara_1@post-room.example",
  'Ωmega@π.example',
  `${'a'.repeat(64)}@post.example`,
])('%s can be written to', (address) => {
  expect(addressTrouble(address)).toBeUndefined();
});

test.each([
  ['', 'there is no email address'],
  ['   ', 'there is no email address'],
  ['ines', '“ines” is not an email address'],
  ['ines@post', '“ines@post” is not an email address'],
  ['ines@@post.example', '“ines@@post.example” is more than one email address'],
  [
    'a@post.example;b@post.example',
    '“a@post.example;b@post.example” is more than one email address',
  ],
  ['.ines@post.example', '“.ines@post.example” is not an email address'],
  ['in..es@post.example', '“in..es@post.example” is not an email address'],
  ['Ines <ines@post.example>', '“Ines <ines@post.example>” is not an email address'],
  ['ines@post.example\r\nBcc: x', '“ines@post.example\r\nBcc: x” is not an email address'],
  ['ines@-post.example', '“ines@-post.example” is not an email address'],
  ['ines@post_room.example', '“ines@post_room.example” is not an email address'],
  [`${'a'.repeat(65)}@post.example`, `“${'a'.repeat(65)}@post.example” is not an email address`],
])('%j cannot be written to', (address, why) => {
  expect(addressTrouble(address)).toBe(why);
});

test('capitals make no other address', () => {
  expect(addressKey(' INES@post.example')).toBe(addressKey('ines@Post.Example '));
});

test('a mail begins with the column of addresses and a greeting by name', () => {
  const mail = mailOf(undefined, columns);
  expect(mail.to).toBe('c3');
  expect(mailWords(mail, { c2: ' Tam ' }).paragraphs[0]).toBe('Hello Tam,');
});

test('a subject is one line whatever it is made of, and blank paragraphs are left out', () => {
  const words = mailWords(
    {
      subject: [
        { kind: 'text', text: 'For\r\nBcc: ' },
        { kind: 'column', column: 'c2' },
        { kind: 'text', text: '\u2028x\u0000' },
      ],
      body: [[{ kind: 'column', column: 'c1' }], [{ kind: 'text', text: 'Goodbye' }]],
    },
    { c1: '  ', c2: 'Tam' },
  );
  expect(words.subject).toBe('For Bcc: Tam x');
  expect(words.paragraphs).toEqual(['Goodbye']);
});

test('nothing of a value is markup, and addresses in it are links', () => {
  const html = mailHtml(
    ['<img src=x onerror=alert(1)> & "so"', 'see https://marrambay.example/a?b=1&c=2.'],
    [{ src: 'cid:1', alt: 'Code "1"', width: 200, height: 100 }],
    'above',
  );
  expect(html).not.toContain('<img src=x');
  expect(html).toContain('&lt;img src=x onerror=alert(1)&gt; &amp; &quot;so&quot;');
  expect(html).toContain(
    '<a href="https://marrambay.example/a?b=1&amp;c=2">https://marrambay.example/a?b=1&amp;c=2</a>.',
  );
  expect(html).toContain('alt="Code &quot;1&quot;" width="200" height="100"');
  expect(html.indexOf('cid:1')).toBeLessThan(html.indexOf('&lt;img'));
});

test('the codes of a mail are those that were chosen, else those of the piece, else all', () => {
  const stamps = ['s1', 's2', 's3'].map((id) => ({ ...firstStamp(columns), id }));
  const ids = (mail: Parameters<typeof stampsInMail>[0], borne: string[]) =>
    stampsInMail(mail, stamps, borne).map((s) => s.id);
  expect(ids({ codes: 'below' }, ['s2'])).toEqual(['s2']);
  expect(ids({ codes: 'below', stamps: ['s3'] }, ['s2'])).toEqual(['s3']);
  expect(ids({ codes: 'below', stamps: ['gone'] }, ['s2'])).toEqual(['s1', 's2', 's3']);
  expect(ids({ codes: 'below' }, [])).toEqual(['s1', 's2', 's3']);
  expect(ids({ codes: 'none' }, ['s2'])).toEqual([]);
});

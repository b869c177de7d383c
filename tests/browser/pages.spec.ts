import { expect, test } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { unzipSync, zipSync } from 'fflate';
import { clean } from '../helpers/axe';
import { readAll } from '../helpers/barcode';
import { asFile, bringIn } from '../helpers/screen';

const list = `Friend no,Name,Since,E-mail
F00003,Imke Orme,2002,imke@post.example
F00004,Tam Mereweather,2026,tam@post.example
`;
const page = `<!doctype html><html><head><style>p { font-size: 18px }</style></head><body>
<p>Dear <b>Imke Orme</b>,</p>
<p>a friend since 2002, with a word for later.</p>
<img src="leaf.svg" width="180" height="180" alt="Where the code comes">
<script>document.title = 'taken over'</script>
<img src="https://elsewhere.example/p.png" width="20" height="10">
</body></html>`;
const leaf =
  '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10"><path d="M0 0h10v10H0z"/></svg>';

test('a page in HTML becomes that of each record: pointed at, its picture a code, taken away and sent', async ({
  page: window,
}) => {
  const outside: string[] = [];
  window.on('request', (request) => {
    if (request.url().includes('elsewhere.example')) outside.push(request.url());
  });
  await bringIn(window, 'few-friends.csv', list);
  await window.keyboard.press('3');
  await window.getByRole('button', { name: 'label stock', exact: true }).click();
  await window.getByRole('option', { name: /a document of your own/ }).click();
  const chooser = window.waitForEvent('filechooser');
  await window.getByRole('button', { name: 'Choose a document' }).click();
  await (
    await chooser
  ).setFiles(
    asFile(
      'invitation.zip',
      Buffer.from(zipSync({ 'index.html': Buffer.from(page), 'leaf.svg': Buffer.from(leaf) })),
    ),
  );
  await expect(window.getByText(/1 picture lies elsewhere and was not fetched/)).toBeVisible();
  await window.getByRole('button', { name: 'Use it so' }).click();
  await expect(window.getByText('written for')).toBeVisible();
  const shown = window.getByRole('group', { name: /^invitation\.zip/ });
  await expect(shown.getByText('Imke Orme')).toBeVisible();
  await expect(
    shown.getByRole('button', { name: 'A code, which follows the record' }),
  ).toBeVisible();
  await clean(window);
  await window.getByRole('button', { name: 'the example', exact: true }).click();
  // words are marked and follow a column
  const box = (await shown.getByText(/with a word for later/).boundingBox())!;
  expect(box).not.toBeNull();
  await shown
    .getByText(/with a word for later/)
    .dblclick({ position: { x: box.width - 30, y: 10 } });
  await expect(window.getByRole('region', { name: 'What is chosen' })).toContainText('later');

  await window.keyboard.press('Escape');
  await window.keyboard.press('4');
  await window.getByRole('button', { name: /Make these 2 pages/ }).click();
  await expect(window.getByText('all 2 codes read back')).toBeVisible({ timeout: 60_000 });
  const [started] = await Promise.all([
    window.waitForEvent('download'),
    window.getByRole('link', { name: /^ZIP/ }).click(),
  ]);
  const files = unzipSync(readFileSync(await started.path()));
  const name = Object.keys(files).find((n) => n.endsWith('F00004.html'))!;
  const html = Buffer.from(files[name]).toString();
  expect(html).toContain('Tam Mereweather');
  expect(html).not.toContain('taken over');
  const code = /src="data:image\/png;base64,([^"]+)"/.exec(html)![1];
  expect((await readAll(Buffer.from(code, 'base64'))).map((r) => r.text)).toEqual(['F00004']);

  await window.getByTitle('What is made').click();
  await window.getByRole('option', { name: /a mail to each person/ }).click();
  const letter = window.getByRole('article', { name: /^Mail to/ });
  await expect(letter.frameLocator('iframe').getByText('Imke Orme')).toBeVisible();
  await clean(window);
  expect(outside).toEqual([]);
  expect(await window.title()).not.toBe('taken over');
});

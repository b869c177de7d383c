import { expect, test } from '../helpers/browser';
import { encode, renderPng } from '../../src/core';
import { defaultLook } from '../../src/core/look/look';
import { clean } from '../helpers/axe';
import { readAll } from '../helpers/barcode';
import { asFile, bringIn, download, row } from '../helpers/screen';

test('a symbology that does not fit offers a worked column, and the list’s own values stay', async ({
  page,
}) => {
  await bringIn(page, 'tags.csv', 'Tag,Item\nab-1,Spade\nab-2,Fork\ncd-3,Rake\n');
  await expect(row(page, 0)).toContainText('correct, 4 characters');
  await page.getByTitle('Code type (symbology)').click();
  const editor = page.getByRole('dialog');
  await expect(editor.getByRole('option', { name: /^Code 39, 3 do not fit/ })).toBeVisible();
  const offer = editor.locator('div', {
    hasText: /^Code 39, in capitals: all fit, and no two are the sameApply$/,
  });
  await offer.getByRole('button', { name: 'Apply' }).click();
  await expect(row(page, 0)).toContainText('AB-1', { timeout: 15_000 });
  await expect(page.getByTitle('Code type (symbology)')).toHaveText('Code 39');
  await page.keyboard.press('1');
  await expect(page.getByText(/Tag for Code 39.* is .*Tag.*, in capitals/)).toBeVisible();
  await expect(row(page, 0)).toContainText('ab-1');
});

test('by example: a part is pointed at; contents and looks are kept for another list', async ({
  page,
}) => {
  await bringIn(page, 'guests.csv', 'No,Name\n1001,Ines Bell\n1002,Tam Ashdown\n');
  await expect(row(page, 0)).toContainText('correct,');
  await page.getByTitle('What a scan does').click();
  await page.getByRole('option', { name: /^opens a page/ }).click();
  await page.getByTitle('What the code says').click();
  const editor = page.getByRole('dialog');
  await editor.getByRole('button', { name: 'Show one finished example instead' }).click();
  const sample = editor.getByLabel('Paste what the code of the selected record should say');
  await sample.fill('https://marrambay.example/g/1001?who=I.+Bell');
  await sample.evaluate((area: HTMLTextAreaElement) => {
    area.focus();
    area.setSelectionRange(area.value.indexOf('I.+Bell'), area.value.length);
  });
  await sample.press('Shift');
  await editor.getByRole('button', { name: 'I.+Bell is Name' }).click();
  await expect(editor).toContainText('does not give exactly your example');
  await clean(page);
  await editor.getByRole('button', { name: 'Use these columns' }).click();
  await editor.getByRole('button', { name: 'Apply' }).click();
  await expect(row(page, 1)).toContainText('https://marrambay.example/g/1002?who=Tam%20Ashdown');
  await page.getByTitle('What the code says').click();
  const kept = `Guest page ${Date.now()}`;
  await editor.getByLabel('Save this content for other lists as').fill(kept);
  await editor.getByRole('button', { name: 'Save' }).click();
  await expect(editor.getByText(kept)).toBeVisible();

  await bringIn(page, 'others.csv', 'Name,No,Room\nKeiko Marsh,77,North\nJoss Amadi,78,South\n');
  await expect(row(page, 0)).toContainText('correct,');
  await page.getByTitle('What the code says').click();
  await editor.locator('li', { hasText: kept }).getByRole('button', { name: 'Use' }).click();
  await expect(row(page, 0)).toContainText('https://marrambay.example/g/77?who=Keiko%20Marsh');
  await page.getByTitle('Saved looks').click();
  await editor.getByLabel('Save this look as').fill(`Plain ${kept}`);
  await editor.getByRole('button', { name: 'Save' }).click();
  await editor
    .locator('li', { hasText: `Plain ${kept}` })
    .getByRole('button', { name: 'Use' })
    .click();
  await expect(editor).toHaveCount(0);
});

test('a secret is masked until it is revealed, and stands under no bars', async ({ page }) => {
  await bringIn(page, 'passes.csv', 'No,Name,Token\n1,Ines,k7m2p9\n2,Tam,q4r8s1\n');
  await page.keyboard.press('1');
  await expect(row(page, 0)).toContainText('••••••');
  await expect(row(page, 0)).not.toContainText('k7m2p9');
  await page.keyboard.press('2');
  await page.getByTitle('What the code says').click();
  const editor = page.getByRole('dialog');
  await editor.getByRole('button', { name: 'Remove No' }).click();
  await editor.getByRole('button', { name: 'Token', exact: true }).click();
  await editor.getByRole('button', { name: 'Apply' }).click();
  await page.getByTitle('Code type (symbology)').click();
  await page.getByRole('option', { name: /^Code 128/ }).click();
  await expect(row(page, 0)).toContainText('correct, 6 characters');
  await expect(row(page, 0)).not.toContainText('k7m2p9');
  await page.getByTitle('Size', { exact: true }).click();
  await expect(editor.getByRole('button', { name: 'no text' })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  await page.keyboard.press('Escape');
  await page.keyboard.press('1');
  await page.getByTitle('The column Token').click();
  await editor.getByRole('button', { name: 'Show it on this screen for now' }).click();
  await page.keyboard.press('Escape');
  await expect(row(page, 0)).toContainText('k7m2p9');
});

test('will it work at the door: every address is asked with leave, and those in trouble are shown', async ({
  page,
}) => {
  await page.goto('/jobs');
  await page.getByRole('link', { name: 'Bed signs' }).click();
  await expect(row(page, 0)).toContainText('correct,');
  // with the addresses of the garden's own pages in the codes, as before there were links
  const job = `/api/jobs/${/jobs\/(\d+)/.exec(page.url())![1]}`;
  const { version, document, list } = (await (await page.request.get(job)).json()) as {
    version: number;
    document: { stamps: { parts: object[] }[] };
    list: { columns: { id: string; name: string }[] };
  };
  const column = list.columns.find((c) => c.name === 'Page')!.id;
  document.stamps[0]!.parts = [{ kind: 'column', column }];
  const kept = await page.request.patch(job, { data: { version, document } });
  expect(kept.ok(), await kept.text()).toBe(true);
  await expect(row(page, 0)).toContainText('https://marrambay.example/plants/');
  await page.getByTitle('Will it work when scanned').first().click();
  const report = page.getByRole('dialog');
  await expect(report).toContainText('marrambay.example');
  await expect(report).toContainText('for tests and examples');
  await report.getByRole('button', { name: /^Check the 1,19\d addresses/ }).click();
  await expect(report.getByRole('button', { name: /^Check again/ })).toBeVisible({
    timeout: 80_000,
  });
  await expect(report).toContainText(/are not found \(404\)/);
  await expect(report).toContainText('→ https://marrambay.example/garden/plants/');
  await clean(page);
});

test('the loupe reads a picture of a code, says whether it is this record’s, and takes it apart', async ({
  page,
}) => {
  await bringIn(
    page,
    'contacts.csv',
    'No,Name,Mail\n1,Ines,ines@marrambay.example\n2,Tam,tam@marrambay.example\n',
  );
  await page.getByTitle('What a scan does').click();
  await page.getByRole('option', { name: /^writes an email/ }).click();
  await page.getByTitle('to', { exact: true }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Mail', exact: true }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Apply' }).click();
  await expect(row(page, 0)).toContainText('correct,');
  await row(page, 0).getByText('Ines', { exact: true }).click();
  await page.keyboard.press('Space');
  const loupe = page.getByRole('dialog');
  await expect(loupe).toContainText('ines@marrambay.example');
  await expect(loupe).toContainText('start an email');
  await loupe.getByRole('button', { name: 'a picture', exact: true }).click();
  const other = await renderPng(encode('qr', 'mailto:tam@marrambay.example'), defaultLook);
  await page.locator('input[type=file]').setInputFiles(asFile('other.png', Buffer.from(other)));
  await expect(loupe).toContainText('It says something different from this record');
  await expect(loupe).toContainText('tam@marrambay.example');
  const own = await renderPng(encode('qr', 'mailto:ines@marrambay.example'), defaultLook);
  await page.locator('input[type=file]').setInputFiles(asFile('own.png', Buffer.from(own)));
  await expect(loupe).toContainText('It says what this record should say');
  await page
    .locator('input[type=file]')
    .setInputFiles(asFile('no.png', Buffer.from('not a picture')));
  await expect(loupe).toContainText('no.png is not a picture that can be opened here');
  await clean(page);
  // there is no camera here, and a message says so
  await loupe.getByRole('button', { name: 'the camera' }).click();
  await expect(loupe).toContainText(/no camera|not allowed|gives no camera/);
});

test('picture addresses: given, fetched as a scannable picture, withdrawn', async ({
  page,
  request,
}) => {
  await bringIn(page, 'codes.csv', 'No,Name\n501,One\n502,Two\n');
  await expect(row(page, 0)).toContainText('correct,');
  await page.getByTitle('Picture addresses').click();
  const editor = page.getByRole('dialog');
  await editor.getByRole('button', { name: 'Create an address for every record' }).click();
  const link = editor.getByRole('link', { name: /\/c\// });
  const address = (await link.getAttribute('href'))!;
  const picture = await request.get(`${address}?mm=40&dpi=300`);
  expect((await readAll(await picture.body()))[0]!.text).toBe('501');
  const csv = (await download(page, /all 2 as CSV/)).toString();
  expect(csv.split('\r\n')[1]).toMatch(/^501,http.*\/c\/[\w-]{20,}\.png$/);
  await clean(page);
  await editor.getByRole('button', { name: 'Withdraw this address' }).click();
  await expect(link).toHaveCount(0);
  expect((await request.get(address)).status()).toBe(410);
  // another one, as it is wanted
  await editor.getByRole('button', { name: 'Create an address for this record' }).click();
  await editor.getByTitle('Kind of picture').click();
  await page.getByRole('option', { name: /^JPEG/ }).click();
  await expect(link).toHaveAttribute('href', /\.jpeg$/);
  const fresh = await request.get((await link.getAttribute('href'))!);
  expect(fresh.headers()['content-type']).toBe('image/jpeg');
  expect((await readAll(await fresh.body()))[0]!.text).toBe('501');
});

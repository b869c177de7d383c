import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, expect, test } from '../helpers/browser';
import { renderPng } from '../../src/core/artwork/png';
import { defaultLook } from '../../src/core/look/look';
import { encode } from '../../src/core/symbology';
import { clean } from '../helpers/axe';
import { filmOf } from '../helpers/camera';
import { bringIn, row } from '../helpers/screen';

test('a look is changed by pointing at the code; what goes wrong stands beside it with its mend', async ({
  page,
}) => {
  await bringIn(page, 'tools.csv', 'No,Name\nDH-0142,Pump\nDH-0143,Sensor\n');
  await expect(row(page, 0)).toContainText('correct,');
  const inHand = row(page, 0);
  const drawn = () => inHand.locator('.art svg').innerHTML();
  const plain = await drawn();
  await inHand.getByRole('button', { name: 'Finders' }).first().click();
  await page.getByRole('dialog').getByRole('button', { name: 'leaf' }).click();
  await clean(page);
  await page.keyboard.press('Escape');
  await expect(page.getByTitle('Shapes')).toContainText('leaf finders');
  await expect.poll(drawn).not.toBe(plain);
  // a press between the finders darkens a colour with too little contrast; a press in the middle
  // would add a logo
  await inHand
    .getByRole('button', { name: 'Colours and squares' })
    .click({ position: { x: 48, y: 8 } });
  await page.getByLabel('Code as hex').fill('#c9b458');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  const warnings = page.getByRole('list', { name: 'Warnings' });
  await expect(warnings).toContainText('The colours are too close: contrast 2.1 to 1');
  await warnings.getByRole('button', { name: 'Use black for the code' }).click();
  await expect(warnings).toHaveCount(0);
  await expect(inHand).toContainText('correct, 7 characters');
  // the measure under the code
  await inHand.getByRole('button', { name: /^Size, / }).click();
  await page.getByLabel('Width with its quiet zone, at most, mm').fill('9');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Escape');
  await expect(inHand.getByRole('button', { name: /^Size, [78]\.\d mm/ })).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(inHand.getByRole('button', { name: /^Size, 2\d\.\d mm/ })).toBeVisible();
});

test('levels stand side by side with size, module and measured wear, and one of them is taken', async ({
  page,
}) => {
  await bringIn(page, 'visit.csv', 'No,Name,Page\n1,Pump,https://marrambay.example/v/DH-0142\n');
  await expect(row(page, 0)).toContainText('correct,');
  await page.getByRole('button', { name: 'Side by side' }).click();
  const sheet = page.getByRole('dialog');
  await expect(sheet).toContainText('Side by side, for Pump');
  const cells = (name: string) =>
    sheet.getByRole('row', { name: new RegExp(`^${name} `) }).getByRole('cell');
  await expect(cells('module')).toHaveCount(4);
  const modules = await cells('module').allTextContents();
  expect(new Set(modules).size).toBe(1);
  const sizes = (await cells('size').allTextContents()).map((text) => Number.parseFloat(text));
  expect(sizes[3]).toBeGreaterThan(sizes[0]!);
  await sheet.getByRole('button', { name: 'Run the wear test' }).click();
  await expect(sheet.getByRole('button', { name: 'Run the wear test again' })).toBeVisible({
    timeout: 80_000,
  });
  const covered = (await cells('covered from one corner').allTextContents()).map((text) =>
    Number.parseFloat(text),
  );
  expect(covered[3]).toBeGreaterThan(covered[0]!);
  await clean(page);
  await sheet.getByTitle('Same size of').click();
  await page.getByRole('option', { name: /^same total size/ }).click();
  await expect
    .poll(async () => new Set(await cells('module').allTextContents()).size)
    .toBeGreaterThan(1);
  await sheet.getByTitle('What is compared').click();
  await page.getByRole('option', { name: /^the code types/ }).click();
  await expect(sheet.getByRole('columnheader', { name: 'Data Matrix', exact: true })).toBeVisible();
  await sheet.getByTitle('What is compared').click();
  await page.getByRole('option', { name: /^the four levels/ }).click();
  await sheet.getByRole('button', { name: 'Use this' }).last().click();
  await expect(page.getByTitle('Error correction')).toContainText('about 30% damaged');
});

test('of several stamps the one that is taken is shown in every row, each with its own verdict', async ({
  page,
}) => {
  await bringIn(page, 'two.csv', 'No,Name\n1,Pump\n,Sensor\n');
  await page.getByRole('button', { name: 'Add a stamp' }).click();
  await expect(page.getByTitle('Name of this stamp')).toHaveCount(2);
  await page.getByTitle('What the code says').last().click();
  const editor = page.getByRole('dialog');
  await editor.getByRole('button', { name: 'Remove No' }).click();
  await editor.getByRole('button', { name: 'Name', exact: true }).click();
  await editor.getByRole('button', { name: 'Apply' }).click();
  const stamps = row(page, 0).getByRole('list', { name: 'Stamps' });
  await stamps.getByRole('button', { name: /^Stamp 2: fits/ }).click();
  await expect(row(page, 0)).toContainText('SaysPump');
  await expect(row(page, 1)).toContainText('Sensor');
  await row(page, 1).click();
  await expect(row(page, 1)).toContainText('SaysSensor');
  await expect(row(page, 1).getByRole('list', { name: 'Stamps' })).toContainText('No is blank');
});

test('the camera reads a code that is held before it', async ({ baseURL }) => {
  const folder = mkdtempSync(join(tmpdir(), 'hand-stamp-film-'));
  const browser = await (async () => {
    filmOf(
      renderPng(encode('qr', 'DH-0142'), {
        ...defaultLook,
        foreground: '#000000',
        dotsPerModule: 12,
      }),
      join(folder, 'film.y4m'),
    );
    return chromium.launch({
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--use-fake-ui-for-media-stream',
        '--use-fake-device-for-media-stream',
        `--use-file-for-fake-video-capture=${join(folder, 'film.y4m')}`,
      ],
    });
  })();
  try {
    const page = await browser.newPage({ baseURL, viewport: { width: 1280, height: 800 } });
    await bringIn(page, 'held.csv', 'No,Name\nDH-0142,Pump\nDH-0143,Sensor\n');
    await page.keyboard.press('Space');
    const loupe = page.getByRole('dialog');
    await loupe.getByRole('button', { name: 'the camera' }).click();
    await expect(loupe).toContainText('It says what this record should say', { timeout: 20_000 });
    await page.keyboard.press('Escape');
    await row(page, 1).click();
    await page.keyboard.press('Space');
    await loupe.getByRole('button', { name: 'the camera' }).click();
    await expect(loupe).toContainText('It says something different from this record', {
      timeout: 20_000,
    });
  } finally {
    await browser.close();
    rmSync(folder, { recursive: true, force: true });
  }
});

test('a camera that is refused, missing or busy says so, and another way is offered', async ({
  page,
}) => {
  await page.addInitScript(() => {
    navigator.mediaDevices.getUserMedia = () =>
      Promise.reject(new DOMException('', localStorage.getItem('trouble') ?? 'NotFoundError'));
  });
  await bringIn(page, 'lens.csv', 'No,Name\n1,Pump\n');
  for (const [trouble, words] of [
    ['NotAllowedError', 'This page may not use the camera'],
    ['NotFoundError', 'This device has no camera'],
    ['NotReadableError', 'Another program is using the camera'],
  ]) {
    await page.evaluate((name) => localStorage.setItem('trouble', name!), trouble);
    await page.keyboard.press('Space');
    const loupe = page.getByRole('dialog');
    await loupe.getByRole('button', { name: 'the camera' }).click();
    await expect(loupe).toContainText(words!);
    await loupe.getByRole('button', { name: 'a picture', exact: true }).click();
    await expect(loupe.getByRole('button', { name: 'Choose a picture of a code' })).toBeVisible();
    await page.keyboard.press('Escape');
    await expect(loupe).toHaveCount(0);
  }
});

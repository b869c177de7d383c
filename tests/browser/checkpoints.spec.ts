import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, expect, test, type Browser, type Page } from '../helpers/browser';
import { renderPng } from '../../src/core/artwork/png';
import { defaultLook } from '../../src/core/look/look';
import { encode } from '../../src/core/symbology';
import { clean } from '../helpers/axe';
import { filmOf } from '../helpers/camera';
import { bringIn } from '../helpers/screen';

const people = ['Rune Castellan', 'Keiko Marsh', 'Tam Bellweather', 'Joss Amadi', 'Corin Vale'];

/** A list whose codes say its numbers, and a checkpoint for it. */
async function gate(page: Page, name: string): Promise<string> {
  const list = `${name} people`;
  await bringIn(
    page,
    `${list}.csv`,
    `No,Name,Role\n${people.map((p, i) => `${name}-${i + 1},${p},Guide`).join('\n')}\n`,
  );
  await page.goto('/checkpoints');
  await page.getByRole('button', { name: 'New checkpoint' }).click();
  await page.getByLabel('Name of the checkpoint').fill(name);
  // a second try brings a list of the same name in
  await page.getByRole('option', { name: list }).last().click();
  await page.getByRole('button', { name: 'Create checkpoint' }).click();
  await page.waitForURL(/\/checkpoints\/\d+$/);
  await expect(page.getByText('of 5 are in')).toBeVisible();
  return page.url();
}

/** A phone that scans the code on the coordinator's screen. */
async function phone(page: Page, browser: Browser, name: string): Promise<Page> {
  await page.getByRole('button', { name: 'Add a device' }).click();
  await page.getByLabel('Name of the device').fill(name);
  await page.getByRole('button', { name: 'Show its code' }).click();
  await expect(page.getByRole('img', { name: 'Code by which the device joins' })).toBeVisible();
  const address = await page.getByRole('link', { name: 'this link' }).getAttribute('href');
  const context = await browser.newContext({ viewport: { width: 360, height: 640 } });
  const device = await context.newPage();
  await device.goto(address!);
  await device.getByRole('button', { name: 'Use this device here' }).click();
  await expect(device.getByText('online')).toBeVisible();
  await expect(page.getByText(`${name} has joined.`)).toBeVisible();
  await page.getByRole('button', { name: 'Done' }).click();
  return device;
}

/**
 * A hand-held reader: its keys come one upon the other, then Enter. None waits for the one before
 * to be answered, since on a busy machine that takes longer than a person needs for a key.
 */
const reads = (page: Page, text: string) =>
  Promise.all([...text, 'Enter'].map((key) => page.keyboard.press(key)));
const says = (page: Page, word: string) =>
  page.locator('section').filter({ hasText: new RegExp(`^${word}`) });
const line = (page: Page, text: string) =>
  page
    .getByRole('list', { name: 'Scans, the latest first' })
    .getByRole('listitem')
    .filter({ hasText: text });

test('a phone joins by a code, scans with a reader and by hand, takes back, and is shut out at once', async ({
  page,
  browser,
}) => {
  // what an earlier try made is still there
  const east = `East${test.info().retry || ''}`;
  await gate(page, east);
  const device = await phone(page, browser, 'Keiko’s phone');
  await reads(device, `${east}-1`);
  await expect(says(device, 'let in')).toContainText('Rune Castellan');
  // the board hears of it without being asked
  await expect(page.getByText('1 of 5 are in')).toBeVisible();
  await expect(line(page, 'Rune Castellan')).toContainText('Keiko’s phone');
  await reads(device, `${east}-1`);
  await expect(says(device, 'already in')).toContainText('Rune Castellan');
  await reads(device, `${east}-99`);
  await expect(says(device, 'unknown')).toBeVisible();

  // wherever the focus is: the scanner's characters do not stay in the field
  await device.getByRole('button', { name: 'Find by name' }).click();
  await device.getByLabel('Name or key').fill('jo');
  await expect(device.getByRole('button', { name: /Joss Amadi/ })).toBeVisible();
  await device.getByLabel('Name or key').focus();
  await reads(device, `${east}-3`);
  await expect(page.getByText('2 of 5 are in')).toBeVisible();
  await expect(device.getByLabel('Name or key')).toHaveValue('jo');
  await device.getByRole('button', { name: /Joss Amadi/ }).click();
  await device.getByRole('button', { name: 'badge forgotten' }).click();
  await device.getByRole('button', { name: 'Let in' }).click();
  await expect(says(device, 'let in')).toContainText('Joss Amadi');
  await expect(line(page, 'Joss Amadi')).toContainText('badge forgotten');
  await device.getByRole('button', { name: 'Undo last scan' }).click();
  await expect(says(device, 'undone')).toBeVisible();
  await expect(page.getByText('2 of 5 are in')).toBeVisible();
  await expect(line(page, 'Joss Amadi')).toHaveCount(2);

  const wide = await device.evaluate(() => document.documentElement.scrollWidth);
  expect(wide).toBeLessThanOrEqual(360);
  await clean(device);
  await clean(page);
  await page.getByRole('button', { name: 'Remove', exact: true }).click();
  await expect(device.getByRole('heading', { name: 'This device was removed' })).toBeVisible();
  // it is that checkpoint and nothing else
  expect((await device.request.get('/api/checkpoints/1/board?as=device')).status()).not.toBe(500);
});

test('two devices that were apart: each goes on, both hand over, and the code let in twice is told on both', async ({
  page,
  browser,
}) => {
  await gate(page, 'West');
  const [north, south] = [
    await phone(page, browser, 'North phone'),
    await phone(page, browser, 'South phone'),
  ];
  // it holds the list and its page before it is away
  await north.waitForFunction(async () => {
    const names = await caches.keys();
    const held = await Promise.all(names.map(async (n) => (await caches.open(n)).keys()));
    return held.flat().some((r) => r.url.endsWith('/k'));
  });
  await north.waitForFunction(
    () =>
      new Promise<boolean>((resolve) => {
        const asked = indexedDB.open('hand-stamp-device');
        asked.onsuccess = () => {
          const all = asked.result.transaction('packs').objectStore('packs').count();
          all.onsuccess = () => resolve(all.result > 0);
        };
      }),
  );
  await north.context().setOffline(true);
  await reads(north, 'West-1');
  await expect(says(north, 'let in')).toContainText('answered offline');
  await reads(north, 'West-1');
  await expect(says(north, 'already in')).toBeVisible();
  await reads(north, 'West-77');
  await expect(says(north, 'cannot check')).toBeVisible();
  await expect(north.getByText('3 scans wait')).toBeVisible();
  // the page opens again without a network, and what waits is still there
  await north.reload();
  await expect(north.getByText('3 scans wait')).toBeVisible();
  await reads(north, 'West-2');
  await expect(says(north, 'let in')).toContainText('Keiko Marsh');
  await reads(south, 'West-1');
  await expect(says(south, 'let in')).toContainText('Rune Castellan');
  await north.context().setOffline(false);
  await expect(north.getByText('online')).toBeVisible({ timeout: 30_000 });
  await expect(north.getByRole('alert').filter({ hasText: 'Rune Castellan' })).toContainText(
    'South phone',
  );
  await expect(south.getByRole('alert').filter({ hasText: 'Rune Castellan' })).toContainText(
    'North phone',
  );
  await expect(page.getByText('2 of 5 are in')).toBeVisible();
  await expect(line(page, 'Rune Castellan')).toHaveCount(3);
  await expect(line(page, 'also let in').first()).toContainText('offline');
  await expect(page.getByText('1 code was let in twice')).toBeVisible();
});

test('the sentence says how often, when and in which session, and the answers follow it', async ({
  page,
  browser,
}) => {
  const address = await gate(page, 'South');
  const device = await phone(page, browser, 'Reader');
  // an earlier answer may look the same, so each scan is awaited on the tape
  const written = page.getByRole('list', { name: 'Scans, the latest first' }).getByRole('listitem');
  let count = 0;
  const answered = async (text: string, answer: string) => {
    await reads(device, text);
    await expect(written).toHaveCount(++count);
    await expect(says(device, answer)).toBeVisible();
  };
  const saved = () =>
    page.waitForResponse((r) => r.request().method() !== 'GET' && /checkpoints/.test(r.url()));
  await answered('South-1', 'let in');
  await page.getByTitle('Sessions').click();
  await page.getByRole('button', { name: 'switched by hand' }).click();
  await page.getByLabel('Session names, one per line').fill('Morning\nNoon');
  await Promise.all([saved(), page.getByRole('button', { name: 'Apply' }).click()]);
  await page.getByTitle('How often a code may pass').click();
  await Promise.all([saved(), page.getByRole('option', { name: 'once each session' }).click()]);
  await answered('South-1', 'let in');
  await answered('South-1', 'already in');
  await page.getByTitle('Current session', { exact: true }).click();
  await page.getByRole('option', { name: 'Noon' }).click();
  await expect(device.getByText('session: Noon')).toBeVisible();
  await answered('South-1', 'let in');
  await page.getByTitle('Add another condition').click();
  await page.getByRole('option', { name: 'Role' }).click();
  await page.getByLabel('Value').fill('Steward');
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByTitle('A condition')).toHaveText('its Role is Steward');
  await reads(device, 'South-2');
  await expect(says(device, 'not allowed now')).toContainText('its Role is Guide, not Steward');
  const log = await page.request.get(`/api/checkpoints/${/\d+$/.exec(address)![0]}/log?as=csv`);
  expect((await log.text()).trim().split('\n')).toHaveLength(6);
});

test('the camera reads a film, each code once, ten frames a second or more', async ({ page }) => {
  const address = await gate(page, 'Film');
  const film = join(mkdtempSync(join(tmpdir(), 'film-')), 'gate.y4m');
  filmOf(
    renderPng(encode('qr', 'Film-4'), { ...defaultLook, foreground: '#000000', dotsPerModule: 12 }),
    film,
  );
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--use-fake-ui-for-media-stream',
      '--use-fake-device-for-media-stream',
      `--use-file-for-fake-video-capture=${film}`,
    ],
  });
  try {
    const eye = await browser.newPage({ viewport: { width: 390, height: 844 } });
    await eye.goto(`${address}/scan`);
    await eye.getByRole('button', { name: 'camera', exact: true }).click();
    await expect(says(eye, 'let in')).toContainText('Joss Amadi');
    await expect(page.getByText('1 of 5 are in')).toBeVisible();
    const speed = async () =>
      Number(/(\d+) a second/.exec((await eye.getByText(/a second/).textContent())!)?.[1]);
    await expect.poll(speed, { timeout: 30_000 }).toBeGreaterThanOrEqual(10);
    // the same code stays before the camera and is one scan
    await expect(line(page, 'Joss Amadi')).toHaveCount(1);
  } finally {
    await browser.close();
  }
});

test('without a camera, or with one that is refused, it says so and goes on', async ({ page }) => {
  const address = await gate(page, 'Dark');
  await page.goto(`${address}/scan`);
  await page.getByRole('button', { name: 'camera', exact: true }).click();
  await expect(page.getByRole('alert').filter({ hasText: 'camera' })).toBeVisible();
  await reads(page, 'Dark-1');
  await expect(says(page, 'let in')).toBeVisible();
  await reads(page, '#7Dark-2');
  await page.getByRole('button', { name: 'Remove it from now on' }).click();
  await expect(says(page, 'let in')).toContainText('Keiko Marsh');
  await reads(page, '#7Dark-3');
  await expect(says(page, 'let in')).toContainText('Tam Bellweather');
});

test('a round: places, what belongs elsewhere is moved, the unknown becomes a record, and the report is taken away', async ({
  page,
}) => {
  await bringIn(
    page,
    'tools round.csv',
    'No,Name,Site\nT-1,Pump,Shed\nT-2,Rake,Shed\nT-3,Lamp,Barn\n',
  );
  await page.goto('/checkpoints');
  await page.getByRole('button', { name: 'New round' }).click();
  await page.getByLabel('Name of the round').fill('Tools');
  await page.getByRole('option', { name: 'tools round' }).click();
  await page.getByRole('option', { name: 'Site' }).click();
  await page.getByRole('button', { name: 'Start round' }).click();
  await page.waitForURL(/\/rounds\/\d+$/);
  await expect(page.getByRole('heading', { name: '0 of 3 found' })).toBeVisible();
  await reads(page, 'T-1');
  await expect(page.getByText('Choose a location first')).toBeVisible();
  await page.getByRole('button', { name: /^Shed/ }).click();
  await expect(page.getByRole('heading', { name: 'Not found yet at Shed, 2' })).toBeVisible();
  await reads(page, 'T-1');
  const last = page.getByRole('status').filter({ hasText: 'T-1' });
  await expect(last).toContainText('belongs here');
  await reads(page, 'T-3');
  await page.getByRole('button', { name: 'Move it to Shed' }).click();
  await expect(page.getByRole('status').filter({ hasText: 'Lamp' })).toContainText('moved here');
  await reads(page, 'T-99');
  await page.getByLabel('What is it?').fill('Ladder');
  await page.getByRole('button', { name: 'Add as a record' }).click();
  await expect(page.getByRole('status').filter({ hasText: 'Ladder' })).toContainText(
    'added as a record',
  );
  await expect(page.getByRole('heading', { name: '2 of 4 found' })).toBeVisible();
  await clean(page);
  await page.getByRole('button', { name: 'Close the round' }).click();
  await page.getByRole('button', { name: 'Close round' }).click();
  await expect(page.getByRole('row').filter({ hasText: 'Rake' })).toContainText('not found');
  await expect(page.getByRole('row').filter({ hasText: 'Lamp' })).toContainText('moved');
  await clean(page);
  const pdf = await page.request.get(
    (await page.getByRole('link', { name: 'Download report (PDF)' }).getAttribute('href'))!,
  );
  expect((await pdf.body()).subarray(0, 5).toString()).toBe('%PDF-');
});

test('people check in by themselves, on a page without scripts, and stand on the tape and in the list', async ({
  page,
  browser,
}) => {
  await gate(page, 'Self');
  await page.getByTitle('Self check-in').click();
  await page.getByRole('button', { name: 'Add question' }).click();
  await page.getByLabel('Question', { exact: true }).fill('What do you eat?');
  await page.getByRole('button', { name: 'one choice' }).click();
  await page.getByLabel('Choices, one per line').fill('soup\nbread');
  await clean(page);
  await page.getByRole('button', { name: 'Turn on self check-in' }).click();
  await expect(page.getByTitle('Self check-in')).toHaveText('on, with 1 question');
  await page.getByTitle('Self check-in').click();
  const address = await page
    .getByRole('link', { name: 'Open the first person’s page' })
    .getAttribute('href');
  await page.keyboard.press('Escape');
  const context = await browser.newContext({
    viewport: { width: 390, height: 844 },
    javaScriptEnabled: false,
  });
  const own = await context.newPage();
  await own.goto(address!);
  await expect(own.getByText('Rune Castellan')).toBeVisible();
  await own.getByLabel('What do you eat?').selectOption('soup');
  await own.getByRole('button', { name: 'Check in' }).click();
  await expect(own.getByRole('heading', { name: 'You are checked in' })).toBeVisible();
  await expect(page.getByText('1 of 5 are in')).toBeVisible();
  await expect(line(page, 'Rune Castellan')).toContainText('self check-in');
  await own.getByLabel('What do you eat?').selectOption('bread');
  await own.getByRole('button', { name: 'Change my answers' }).click();
  await expect(line(page, 'changed their answers')).toBeVisible();
});

test('in the demo a film stands in for the camera at the north gate', async ({ page }) => {
  await page.goto('/checkpoints');
  await page.getByRole('link', { name: 'North gate, open weekend' }).click();
  await page.waitForURL(/\/checkpoints\/\d+$/);
  await page.goto(`${page.url()}/scan`);
  await page.getByRole('button', { name: 'Play a film instead' }).click();
  await expect(page.getByLabel('Camera picture')).toBeVisible();
  await expect(says(page, '(already in|not allowed now|let in)')).toBeVisible({ timeout: 60_000 });
  await page.getByRole('button', { name: 'Stop film' }).click();
  await expect(page.getByLabel('Camera picture')).toHaveCount(0);
  await clean(page);
});

/**
 * `npm run screenshots`: fresh demo data, one picture of each main view at 1280 × 800 into
 * docs/screenshots.
 */
import { spawn } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { needBuild, needDebian, needPackages, root, say, startCommand } from './lib-setup.mjs';

needDebian(['postgresql', 'chromium']);
needPackages();
needBuild();
const { chromium } = await import('@playwright/test');
const port = 3111;
const application = spawn(
  process.execPath,
  [startCommand, '--purpose=pictures', '--fresh', `--port=${port}`],
  {
    cwd: root,
    stdio: 'inherit',
  },
);
const url = `http://127.0.0.1:${port}`;
for (let tries = 0; tries < 720; tries++) {
  if ((await fetch(`${url}/api/health`).catch(() => undefined))?.ok) break;
  await new Promise((resolve) => setTimeout(resolve, 250));
}
const folder = join(root, 'docs/screenshots');
mkdirSync(folder, { recursive: true });
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--disable-background-networking'],
});
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
await page.addInitScript(() => localStorage.setItem('hand-stamp first visit', 'seen'));
const shot = async (name) => {
  // what is still loading ends in three dots
  await page.waitForFunction(
    () =>
      !/\b(Laying out|Loading|drawing|reading|opening)[^.\n]{0,60} …/i.test(
        document.body.innerText,
      ),
    undefined,
    { timeout: 60_000 },
  );
  await page.waitForTimeout(1200);
  await page.screenshot({ path: join(folder, `${name}.png`) });
  say(`docs/screenshots/${name}.png`);
};
try {
  await page.goto(`${url}/jobs`);
  await page.getByRole('link', { name: 'Badges, open weekend' }).waitFor();
  await page.waitForTimeout(12_000);
  await page.reload();
  await shot('jobs');
  await page.getByRole('link', { name: 'Badges, open weekend' }).click();
  await page.getByText('correct,').waitFor();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  await shot('stamps');
  await page.keyboard.press('Space');
  await page.getByRole('dialog').getByText('correct,').waitFor();
  await shot('loupe');
  await page.keyboard.press('Escape');
  await page.keyboard.press('1');
  await shot('records');
  await page.getByTitle('repeated keys').first().click();
  await page.getByRole('dialog').getByText('Show only these').waitFor();
  await shot('problems');
  await page.keyboard.press('Escape');
  await page.keyboard.press('3');
  await page.getByRole('button', { name: 'longest', exact: true }).click();
  await page.waitForTimeout(800);
  await page.getByRole('button', { name: /^(Text|Words) at 6, 15/ }).click();
  await shot('piece');
  await page.keyboard.press('4');
  await page.getByRole('button', { name: /^Make \d/ }).waitFor();
  await shot('run');
  await page.goto(`${url}/jobs`);
  await page.getByRole('link', { name: 'Asset tags' }).click();
  await page.getByText('correct,').waitFor();
  await page.keyboard.press('1');
  await page.getByTitle('Add a worked column').click();
  await page.getByLabel('Name of the new column').fill('Long tag');
  await page.getByRole('button', { name: 'Create column' }).click();
  await page.getByTitle('Another step for Long tag').click();
  await page.getByRole('option', { name: /^pad to/ }).click();
  await page.getByRole('textbox', { name: 'Length' }).fill('12');
  await page.keyboard.press('Tab');
  await shot('worked');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  await page.goto(`${url}/jobs`);
  await page.getByRole('link', { name: 'Postcards to friends' }).click();
  await page.getByText('correct,').waitFor();
  await page.getByRole('button', { name: 'Side by side' }).click();
  await page.getByRole('button', { name: 'Run the wear test' }).click();
  await page.getByRole('button', { name: 'Run the wear test again' }).waitFor({ timeout: 120_000 });
  await shot('side-by-side');
  await page.keyboard.press('Escape');
  await page.goto(`${url}/links`);
  await page.getByText('Scans a day').waitFor();
  await page.getByTitle('Sort by').click();
  await page.getByRole('option', { name: 'most scanned first' }).click();
  await page.getByText('Scans a day').waitFor();
  await shot('links');
  await page.goto(`${url}/orders`);
  await page.getByRole('link', { name: /A sign for each new record/ }).click();
  await page.getByText(/stops at/).waitFor();
  await shot('orders');
  await page.goto(`${url}/checkpoints`);
  await page.getByRole('link', { name: 'North gate, open weekend' }).click();
  await page.getByText('are in', { exact: false }).first().waitFor();
  await page.getByRole('list', { name: 'Scans, the latest first' }).waitFor();
  await shot('checkpoint');
  await page.goto(`${url}/jobs`);
  await page.getByRole('link', { name: 'Loan agreements', exact: true }).click();
  await page.getByText('correct,').waitFor();
  await page.keyboard.press('3');
  await page.locator('[data-place]', { hasText: 'PK-118' }).first().click();
  await shot('document');
  await page.goto(`${url}/jobs`);
  await page.getByRole('link', { name: 'Loan agreements, signed copies' }).click();
  await page.getByText('correct,').waitFor();
  await page.keyboard.press('3');
  await page.getByRole('img', { name: /^Page 1 of/ }).waitFor();
  await page.waitForFunction(() => [...document.images].every((i) => i.complete));
  await shot('pdfs');
  await page.goto(`${url}/jobs`);
  await page.getByRole('link', { name: 'Winter evening, by mail' }).click();
  await page.getByText('correct,').waitFor();
  await page.keyboard.press('4');
  await page.getByTitle('What is made').click();
  await page.getByRole('option', { name: /an email to each person/ }).click();
  await page.getByTitle('Send a test email to yourself').click();
  await page.getByLabel('Your email address').fill('coordinator@marrambay.example');
  await page.getByRole('button', { name: 'Send test email' }).click();
  await page.getByText('1 email sent').waitFor({ timeout: 60_000 });
  await page.frameLocator('iframe').getByText('Dear').waitFor();
  await shot('mail');
  await page.goto(`${url}/post-room`);
  await page.getByRole('list', { name: 'Emails' }).waitFor();
  await page.getByText('Test page').or(page.getByText('Test page')).first().waitFor();
  // the folder is this machine's own; the picture shows one that could be anybody's
  await page
    .locator('code')
    .first()
    .evaluate((e) => (e.textContent = '/srv/hand-stamp/in-tray'));
  await shot('post-room');
  await page.goto(`${url}/people`);
  for (const [name, email] of [
    ['Bryn Callow', 'bryn@marrambay.example'],
    ['Fen Coldbrook', 'fen@marrambay.example'],
  ]) {
    await page.getByLabel('Their name').fill(name);
    await page.getByLabel('Their email address').fill(email);
    await page.getByRole('button', { name: 'Invite person' }).click();
    await page.getByRole('button', { name: 'Close' }).click();
  }
  await page.getByTitle('Role of Oda Brennick').click();
  await shot('people');
  await page.keyboard.press('Escape');
  await page.goto(`${url}/code`);
  await page.getByText('correct, 31 characters').waitFor();
  await page.getByRole('button', { name: 'usual settings' }).click();
  await page.getByTitle('Shapes').click();
  await page.getByRole('button', { name: 'pebble' }).first().click();
  await page.getByRole('button', { name: 'leaf' }).click();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Keep for comparison' }).click();
  await page.getByTitle('Error correction').click();
  await page.getByRole('option', { name: /about 30% damaged/ }).click();
  await page.getByRole('button', { name: 'Run the wear test' }).click();
  await page.getByRole('button', { name: 'Run the wear test again' }).waitFor({ timeout: 120_000 });
  await shot('one-code');
  await page.goto(`${url}/bring-in`);
  await page.locator('input[type=file]').setInputFiles(join(root, 'demo/equipment.csv'));
  await page.getByRole('button', { name: /^Bring in 240/ }).waitFor();
  await shot('bring-in');
} finally {
  await browser.close();
  application.kill('SIGTERM');
}

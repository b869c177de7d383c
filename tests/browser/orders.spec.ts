import { copyFile, readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { expect, test, type Page } from '../helpers/browser';
import { createTransport } from 'nodemailer';
import { clean } from '../helpers/axe';
import { bringIn } from '../helpers/screen';

const list = 'No,Plant,Bed,State\nA-1,Thrift,North 2,\nA-2,Sea kale,,\n';

/** A list of its own, and an order about it that begins as a sentence of one's own. */
async function begin(page: Page, name: string): Promise<void> {
  await bringIn(page, `${name}.csv`, list);
  await page.goto('/orders');
  await page.getByRole('button', { name: 'New standing order' }).click();
  await page.getByRole('option', { name: /Write your own/ }).click();
  await page.getByRole('button', { name: 'a record is added to' }).click();
  await page.getByRole('option', { name, exact: true }).click();
}
const use = (page: Page) => page.getByRole('button', { name: 'Apply' }).click();
const part = (page: Page, words: string | RegExp) =>
  page.getByRole('group', { name: 'The order' }).getByRole('button', { name: words });
const didIt = (page: Page) => page.getByRole('region', { name: 'What it did' });

test('an order is a sentence: rehearsed before it is on, done when a record comes, and not by its own work', async ({
  page,
}) => {
  await begin(page, 'orchard');
  await use(page);
  await expect(page.getByText('a record is added to orchard')).toBeVisible();
  await part(page, '+ add a condition').click();
  await page.getByRole('option', { name: 'the value of a column' }).click();
  await page.getByRole('option', { name: 'Bed' }).click();
  await use(page);
  await part(page, '+ do …').click();
  await page.getByRole('option', { name: /write a value into the record/ }).click();
  await page.getByRole('option', { name: 'State' }).click();
  await page.getByRole('textbox', { name: 'Text 1' }).fill('seen on ');
  await page.getByRole('button', { name: 'today' }).click();
  await use(page);
  // nothing has come yet: its last records, as if they came now
  const rehearsal = page.getByRole('region', { name: 'Rehearsal' });
  await expect(rehearsal.getByRole('row')).toHaveCount(3);
  await expect(rehearsal.getByRole('row', { name: /Sea kale/ })).toContainText('');
  await rehearsal.getByRole('button', { name: 'Sea kale arrived' }).click();
  await expect(rehearsal).toContainText('stops at Bed not blank: its Bed is blank');
  await rehearsal.getByRole('button', { name: 'Thrift arrived' }).click();
  await expect(rehearsal).toContainText(/would write seen on \d{4}-\d{2}-\d{2} to State/);
  await clean(page);
  await page.getByRole('button', { name: 'Turn on' }).click();
  await expect(page.getByText(/a standing order, on;/)).toBeVisible();
  const { lists } = (await (await page.request.get('/api/lists')).json()) as {
    lists: { id: number; name: string }[];
  };
  const id = lists.find((one) => one.name === 'orchard')!.id;
  await page.request.post(`/api/lists/${id}/records`, {
    data: { records: [{ c1: 'A-3', c2: 'Samphire', c3: 'South' }] },
  });
  await expect(didIt(page).getByText('Samphire arrived')).toBeVisible({ timeout: 30_000 });
  await expect(didIt(page).getByText(/wrote seen on .* to State/)).toBeVisible({ timeout: 30_000 });
  await clean(page);
  // the change of name is a version, and is undone
  await page.getByRole('heading', { level: 1 }).getByRole('button').click();
  await page.getByLabel('Name', { exact: true }).fill('Orchard notes');
  await page.getByRole('button', { name: 'Rename' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Orchard notes');
  await page.getByRole('button', { name: 'Undo last change' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('New standing order');
  await page.getByRole('button', { name: 'Turn off' }).click();
  await expect(page.getByRole('button', { name: 'Turn on' })).toBeVisible();
});

test('an agreement that lands in the In-tray gets its code, and lies in the Out-tray', async ({
  page,
}) => {
  test.slow();
  const { folder } = (await (await page.request.get('/api/tray')).json()) as { folder: string };
  await page.goto('/orders');
  await page
    .getByRole('link', { name: /Loan agreements from the In-tray/ })
    .first()
    .click();
  await expect(page.getByText(/a standing order, on;/)).toBeVisible();
  await copyFile('demo/agreements/agreement LN-2026-002.pdf', join(folder, 'LN-2026-002.pdf'));
  await expect(didIt(page).getByText('LN-2026-002.pdf arrived')).toBeVisible({ timeout: 60_000 });
  await expect(didIt(page).getByText(/^put .*\.pdf into the Out-tray/)).toBeVisible({
    timeout: 60_000,
  });
  expect(await readdir(join(folder, 'Out-tray', 'Agreements'))).toHaveLength(1);
  // and one that is mailed to the In-tray; the same mailed again is saved again, and was done
  // already
  const { server } = (await (await page.request.get('/api/mail-server')).json()) as {
    server: { host: string; port: number };
  };
  const post = createTransport({ host: server.host, port: server.port, ignoreTLS: true });
  const mail = () =>
    post.sendMail({
      from: 'borrower@marrambay.example',
      to: 'in-tray@marrambay.example',
      subject: 'Our agreement',
      text: 'Signed.',
      attachments: [
        { filename: 'LN-2026-003.pdf', path: 'demo/agreements/agreement LN-2026-003.pdf' },
      ],
    });
  await mail();
  await expect(didIt(page).getByText('Mail/LN-2026-003.pdf arrived')).toBeVisible({
    timeout: 60_000,
  });
  await expect(didIt(page).getByText(/^put .*\.pdf into the Out-tray/)).toHaveCount(2, {
    timeout: 60_000,
  });
  await mail();
  await expect(didIt(page).getByText(/stopped: it was already done/)).toBeVisible({
    timeout: 60_000,
  });
  expect(await readdir(join(folder, 'Out-tray', 'Agreements'))).toHaveLength(2);
});

test('a program calls an order at its own address; its values are pointed at; what it sends waits for a yes', async ({
  page,
}) => {
  await begin(page, 'called');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'a record is added to' }).click();
  await page.getByText('Start from something else').click();
  await page.getByRole('option', { name: /a program calls this order/ }).click();
  await page.getByRole('option', { name: /no list/ }).click();
  await use(page);
  await page.getByRole('button', { name: 'Create a new secret' }).click();
  const secret = (await page.getByText(/^whsec_/).textContent())!;
  const address = new URL(
    (await page
      .getByText(/\/api\/calls\//)
      .first()
      .textContent())!,
  );
  const call = () =>
    page.request.post(address.pathname, {
      headers: { authorization: `Bearer ${secret}` },
      data: { plant: { name: 'Sea holly' } },
    });
  expect((await call()).status()).toBe(200);
  await page.reload();
  await expect(page.getByText('plant.name: Sea holly')).toBeVisible();
  await part(page, '+ do …').click();
  await page.getByRole('option', { name: /call a web address/ }).click();
  await page.getByRole('textbox', { name: 'Text 1' }).fill('https://vault.marrambay.example/told');
  await page.getByRole('button', { name: '+ Add a value' }).click();
  await page.getByLabel('Name of the value').fill('plant');
  await page.getByRole('button', { name: 'plant.name (Sea holly)' }).last().click();
  await use(page);
  await part(page, 'automatic').click();
  await page.getByRole('option', { name: /after approval/ }).click();
  await page.getByRole('button', { name: 'Turn on' }).click();
  await expect(page.getByText(/a standing order, on;/)).toBeVisible();
  expect(await (await call()).json()).toEqual({ taken: true });
  await expect(didIt(page).getByText('waiting for approval')).toHaveCount(2, { timeout: 30_000 });
  await page.goto('/post-room');
  const asks = page.getByRole('region', { name: 'Waiting for approval' });
  await expect(asks.getByText('A program called: Sea holly')).toBeVisible();
  await asks.getByRole('button', { name: 'Approve and send' }).click();
  await expect(asks).toHaveCount(0, { timeout: 30_000 });
  const program = await page.getByRole('link', { name: 'The garden’s app' }).getAttribute('href');
  await page.goBack();
  await expect(
    didIt(page).getByText(/called vault.marrambay.example, which answered 200/),
  ).toBeVisible({
    timeout: 30_000,
  });
  await page.goto(program!);
  await expect(page.getByText('the vault was told: {"plant":"Sea holly"}')).toBeVisible();
});

test('by hand, for the records that are ticked', async ({ page }) => {
  await begin(page, 'ticked by hand');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'a record is added to' }).click();
  await page.getByText('Start from something else').click();
  await page.getByRole('option', { name: /someone starts it by hand/ }).click();
  await page.getByRole('option', { name: 'ticked by hand', exact: true }).click();
  await use(page);
  await part(page, '+ do …').click();
  await page.getByRole('option', { name: /put it into the Out-tray/ }).click();
  await use(page);
  // it cannot be turned on before there is something to put there
  await expect(page.getByText(/First choose what is made/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Turn on' })).toBeDisabled();
  await part(page, 'put it into the Out-tray').click();
  await page.getByRole('button', { name: 'Delete step' }).click();
  await part(page, '+ do …').click();
  await page.getByRole('option', { name: /write a value into the record/ }).click();
  await page.getByRole('option', { name: 'State' }).click();
  await page.getByRole('textbox', { name: 'Text 1' }).fill('asked');
  await use(page);
  await page.getByRole('button', { name: 'Turn on' }).click();
  await expect(page.getByText(/a standing order, on;/)).toBeVisible();
  const order = page.url();
  await page.goto('/jobs');
  await page
    .getByRole('link', { name: /ticked by hand/ })
    .first()
    .click();
  await page.getByRole('checkbox', { name: /Tick/ }).first().click();
  await page.getByRole('button', { name: 'Start a standing order' }).click();
  await page.getByRole('option', { name: /New standing order/ }).click();
  await expect(page.getByText('started for 1 record')).toBeVisible();
  await page.goto(order);
  await expect(didIt(page).getByText('wrote asked to State')).toBeVisible({ timeout: 30_000 });
});

test('everything an order can start from, ask and do is chosen in its small editor and read aloud', async ({
  page,
}) => {
  test.slow();
  await begin(page, 'all there is');
  await use(page);
  const sentence = page.getByRole('group', { name: 'The order' });
  const start = async (option: RegExp, choose: () => Promise<void>, says: RegExp) => {
    await sentence.getByTitle('What it starts from').click();
    await page.getByText('Start from something else').click();
    await page.getByRole('option', { name: option }).click();
    await choose();
    await use(page);
    await expect(sentence).toContainText(says);
  };
  const own = () => page.getByRole('option', { name: 'all there is', exact: true }).click();
  await start(
    /gets a certain value/,
    async () => {
      await own();
      await page.getByRole('option', { name: 'State' }).click();
      await page.getByLabel('Value').fill('gone');
    },
    /When State of a record of all there is becomes “gone”/,
  );
  await start(
    /a scheduled time/,
    async () => {
      await page.getByRole('button', { name: 'once a month' }).click();
      await page.getByRole('button', { name: 'last', exact: true }).click();
      await page.getByLabel(/Time zone/).fill('Europe/London');
    },
    /on the last Monday of every month at 07:30/,
  );
  await start(
    /a code is scanned/,
    async () => {
      await own();
      await page.getByRole('button', { name: 'its link is opened' }).click();
    },
    /a link of all there is is opened/,
  );
  await start(/a file arrives/, own, /a file arrives in the In-tray or is saved again/);
  const ask = async (option: string, choose: () => Promise<void>, says: RegExp) => {
    await part(page, '+ add a condition').click();
    await page.getByRole('option', { name: option }).click();
    await choose();
    await expect(sentence).toContainText(says);
  };
  const nothing = async () => undefined;
  await ask('whether its stamps fit', nothing, /its stamps fit/);
  await ask(
    'how many pages it has',
    async () => {
      await page.getByLabel('Pages').fill('3');
      await use(page);
    },
    /it has at most 3 pages/,
  );
  await ask(
    'how large it is',
    async () => {
      await page.getByRole('option', { name: 'more than' }).click();
      await page.getByLabel('Megabytes').fill('2.5');
      await use(page);
    },
    /it is larger than 2.5 MB/,
  );
  await sentence.getByTitle('All of these, or any').first().click();
  await page.getByRole('option', { name: /^or/ }).click();
  await expect(sentence).toContainText(/or it is larger than 2.5 MB/);
  const then = async (option: RegExp, choose: () => Promise<void>, says: RegExp) => {
    await part(page, /^\+ (do …|add a step)$/).click();
    await page.getByRole('option', { name: option }).click();
    await choose();
    await expect(sentence).toContainText(says);
  };
  const taken = () => use(page);
  await then(/^run a job/, taken, /make all there is for it, as PDF for print/);
  await then(/put it into the Out-tray/, taken, /put it into the Out-tray/);
  await then(/^print it/, taken, /print it on/);
  await then(
    /^email it/,
    async () => {
      await page
        .getByRole('group', { name: 'Email address' })
        .getByRole('textbox')
        .fill('garden@marrambay.example');
      await use(page);
    },
    /email it to garden@marrambay.example/,
  );
  await then(
    /create a link/,
    async () => {
      await page.getByRole('textbox', { name: 'Text 1' }).fill('https://marrambay.example/');
      await page.getByRole('button', { name: 'No', exact: true }).click();
      await use(page);
    },
    /create a link to https:\/\/marrambay.example\/No/,
  );
  await then(
    /publish the code picture/,
    async () => {
      await page.getByRole('option').first().click();
      await use(page);
    },
    /publish the picture of its/,
  );
  await then(
    /for each row of another list/,
    async () => {
      await page.getByRole('option', { name: 'Packets lent' }).click();
      await page.getByRole('option', { name: 'Loan', exact: true }).click();
      await page.getByRole('button', { name: 'No', exact: true }).click();
      await use(page);
    },
    /for each row of Packets lent whose Loan is No/,
  );
  await then(/stop here/, nothing, /then stop here\./);
  await expect(page.getByRole('button', { name: 'Turn on' })).toBeEnabled();
  // changed in another window in the meantime: reported, and shown as it is now
  const kept = (of: Page) => expect(of.getByText('saving …')).toHaveCount(0);
  await kept(page);
  const { page: other } = { page: await page.context().newPage() };
  await other.goto(page.url());
  await other.getByTitle('Safety stop').click();
  await other.getByLabel('Starts per hour').fill('40');
  await other.keyboard.press('Enter');
  await expect(other.getByText('40 starts')).toBeVisible();
  await kept(other);
  await page.getByTitle('Safety stop').click();
  await page.getByLabel('Starts per hour').fill('50');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  await expect(page.getByText(/changed this in another window/)).toBeVisible();
  await expect(page.getByText('40 starts')).toBeVisible();
  await clean(page);
});

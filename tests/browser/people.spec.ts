import { createHmac } from 'node:crypto';
import { expect, test, type Browser, type Page } from '../helpers/browser';
import { allRoutes, type Me } from '../../src/contract';
import { clean } from '../helpers/axe';

/** Makes a page act as the demo's person with a role. */
async function become(page: Page, right: string): Promise<string> {
  const { standIns } = (await (await page.request.get('/api/sign-in')).json()) as Pick<
    Me,
    'standIns'
  >;
  const person = standIns.find((one) => one.right === right)!;
  expect((await page.request.post('/api/me/become', { data: { person: person.id } })).ok()).toBe(
    true,
  );
  return person.name;
}
/** A window in which nobody is signed in. */
async function stranger(browser: Browser): Promise<Page> {
  const context = await browser.newContext();
  const page = await context.newPage();
  await page.request.post('/api/sign-out');
  return page;
}
const password = 'seven wet boots outside';

/** The code of an app of now (RFC 6238). */
function appCode(secret: string, at = Date.now()): string {
  const letters = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567';
  let bits = '';
  for (const c of secret) bits += letters.indexOf(c).toString(2).padStart(5, '0');
  const key = Buffer.from((bits.match(/.{8}/g) ?? []).map((byte) => parseInt(byte, 2)));
  const counter = Buffer.alloc(8);
  counter.writeBigUInt64BE(BigInt(Math.floor(at / 30_000)));
  const mac = createHmac('sha1', key).update(counter).digest();
  const from = mac[19]! & 15;
  return String((mac.readUInt32BE(from) & 0x7fffffff) % 1_000_000).padStart(6, '0');
}

/** Someone new, invited by the coordinator, who comes in by the address that this made. */
async function comesIn(page: Page, browser: Browser, name: string, email: string) {
  await page.goto('/people');
  await page.getByLabel('Their name').fill(name);
  await page.getByLabel('Their email address').fill(email);
  await page.getByRole('button', { name: 'Invite person' }).click();
  const address = await page.locator('code').textContent();
  await page.getByRole('button', { name: 'Close' }).click();
  const theirs = await stranger(browser);
  await theirs.goto(address!);
  await theirs.getByLabel(/New password/).fill(password);
  await theirs.getByRole('button', { name: 'Create my account' }).click();
  await expect(theirs.getByRole('button', { name: new RegExp(name) })).toBeVisible();
  return { theirs, address: address! };
}

test('someone is invited by mail, comes in once, signs out and in, and is let go', async ({
  page,
  browser,
}) => {
  const { theirs, address } = await comesIn(
    page,
    browser,
    'Bryn Callow',
    'bryn.callow@marrambay.example',
  );
  await clean(page);
  // the Out-tray has the email with that very link
  await page.goto('/post-room');
  await page
    .getByRole('button', { name: /Create your account/ })
    .first()
    .click();
  await expect(page.frameLocator('iframe').getByText(address)).toBeVisible();
  // it works only once
  const other = await stranger(browser);
  await other.goto(address);
  await expect(other.locator('main').getByRole('alert')).toContainText('was already used');
  // pages without access are not shown
  await theirs.goto('/people');
  await expect(theirs.getByText('You do not have access to this page')).toBeVisible();
  await theirs.getByRole('button', { name: /Bryn Callow/ }).click();
  await theirs.getByRole('button', { name: 'Sign out' }).click();
  await theirs.waitForURL('**/sign-in');
  await clean(theirs);
  await theirs.goto('/lists');
  await theirs.waitForURL('**/sign-in?to=%2Flists');
  await theirs.getByLabel('Email address').fill('bryn.callow@marrambay.example');
  await theirs.getByLabel('Password').fill('not this one at all');
  await theirs.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(theirs.locator('main').getByRole('alert')).toHaveText(
    'The email address or the password is wrong. Try again, or set a new password.',
  );
  await theirs.getByLabel('Password').fill(password);
  await theirs.getByRole('button', { name: 'Sign in', exact: true }).click();
  await theirs.waitForURL('**/lists');
  // let go, they are out with the next thing they ask
  await page.goto('/people');
  const row = page.getByRole('row', { name: /Bryn Callow/ });
  await row.getByRole('button', { name: /^Change/ }).click();
  await page.getByRole('button', { name: /^Deactivate .* …/ }).click();
  await page.getByRole('button', { name: 'Deactivate', exact: true }).click();
  await expect(page.getByText('Deactivated people')).toBeVisible();
  await theirs.goto('/jobs');
  await theirs.waitForURL('**/sign-in?to=%2Fjobs');
  await page.goto('/journal');
  await page.getByLabel(/^Search people/).fill('bryn.callow');
  await expect(page.getByRole('row', { name: /Created their account/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /Tried to sign in .*refused/ })).toBeVisible();
  await clean(page);
});

test('a forgotten password is set anew by mail, and a second factor is asked for', async ({
  page,
  browser,
}) => {
  const email = 'sorrel.vane@marrambay.example';
  const { theirs } = await comesIn(page, browser, 'Sorrel Vane', email);
  await theirs.goto('/me');
  await theirs.getByLabel('Your password').fill(password);
  await theirs.getByRole('button', { name: 'Turn on' }).click();
  const secret = (await theirs.locator('code').first().textContent())!.trim();
  await expect(theirs.getByRole('img', { name: 'Code for the app' }).locator('svg')).toBeVisible();
  const spare = await theirs.locator('ol li').first().textContent();
  await clean(theirs);
  await theirs.getByLabel('The 6 digits in your app').fill(appCode(secret));
  await theirs.getByRole('button', { name: 'Confirm and turn on' }).click();
  await expect(
    theirs.getByText('After your password you enter a code from your app.'),
  ).toBeVisible();
  const out = await stranger(browser);
  await out.goto('/sign-in');
  await out.getByRole('link', { name: 'I forgot my password' }).click();
  await out.getByLabel('Your email address').fill(email);
  await out.getByRole('button', { name: 'Email me a link' }).click();
  await expect(out.getByText('Check your email')).toBeVisible();
  await page.goto('/post-room');
  await expect(async () => {
    await page.reload();
    await page
      .getByRole('button', { name: /Set a new password for Hand Stamp/ })
      .first()
      .click({ timeout: 2000 });
  }).toPass();
  const mail = page.frameLocator('iframe').locator('body');
  await expect(mail).toContainText('/welcome/');
  const address = /http:\S+\/welcome\/\w+/.exec(await mail.innerText())![0];
  await out.goto(address);
  await out.getByLabel(/New password/).fill('password1234');
  await out.getByRole('button', { name: 'Save password' }).click();
  await expect(out.locator('main').getByRole('alert')).toContainText('too common');
  await out.getByLabel(/New password/).fill('nine quiet lanterns lit');
  await out.getByRole('button', { name: 'Save password' }).click();
  await out.getByRole('link', { name: 'Sign in with your new password' }).click();
  await out.getByLabel('Email address').fill(email);
  await out.getByLabel('Password').fill('nine quiet lanterns lit');
  await out.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(out.getByText('Enter your sign-in code')).toBeVisible();
  // the password alone was not enough
  expect((await out.request.get('/api/me')).status()).toBe(401);
  await out.getByLabel('The 6 digits in your app').fill('000000');
  await out.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(out.locator('main').getByRole('alert')).toContainText('The code is wrong');
  await out.getByRole('button', { name: 'Use a backup code' }).click();
  await out.getByLabel('One of your backup codes').fill(spare!);
  await out.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(out.getByRole('button', { name: /Sorrel Vane/ })).toBeVisible();
  // and all earlier sessions have ended
  await theirs.goto('/jobs');
  await theirs.waitForURL('**/sign-in?to=%2Fjobs');
});

test('a passkey opens it, where it is reached by its name', async ({ page, browser }) => {
  await comesIn(page, browser, 'Marrit Loam', 'marrit.loam@marrambay.example').then(
    async (made) => {
      await made.theirs.close();
      return made;
    },
  );
  const byName = new URL(page.url()).origin.replace('127.0.0.1', 'localhost');
  const context = await browser.newContext({ baseURL: byName });
  const theirs = await context.newPage();
  const client = await context.newCDPSession(theirs);
  await client.send('WebAuthn.enable');
  await client.send('WebAuthn.addVirtualAuthenticator', {
    options: {
      protocol: 'ctap2',
      transport: 'internal',
      hasResidentKey: true,
      hasUserVerification: true,
      isUserVerified: true,
      automaticPresenceSimulation: true,
    },
  });
  await theirs.request.post('/api/sign-out');
  await theirs.goto('/sign-in');
  await theirs.getByLabel('Email address').fill('marrit.loam@marrambay.example');
  await theirs.getByLabel('Password').fill(password);
  await theirs.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(theirs.getByRole('button', { name: /Marrit Loam/ })).toBeVisible();
  await theirs.goto('/me');
  await theirs.getByLabel(/^Name of the passkey/).fill('The old phone');
  await theirs.getByRole('button', { name: 'Add passkey' }).click();
  await expect(theirs.getByText('Passkey added. You can sign in with it now.')).toBeVisible();
  await expect(theirs.getByText('The old phone')).toBeVisible();
  // the session they came in with, in a window that is closed, can be seen and ended
  await expect(theirs.getByRole('button', { name: /^Sign out (?!everywhere)[A-Z]/ })).toHaveCount(
    1,
  );
  await theirs.getByRole('button', { name: /^Sign out (?!everywhere)[A-Z]/ }).click();
  await expect(theirs.getByText('You are signed out there.')).toBeVisible();
  await expect(theirs.getByRole('button', { name: /^Sign out (?!everywhere)[A-Z]/ })).toHaveCount(
    0,
  );
  await theirs.request.post('/api/sign-out');
  await theirs.goto('/sign-in');
  await theirs.getByRole('button', { name: 'Sign in with a passkey' }).click();
  await expect(theirs.getByRole('button', { name: /Marrit Loam/ })).toBeVisible();
  // once removed, it opens nothing
  await theirs.goto('/me');
  await theirs.getByRole('button', { name: 'Remove passkey The old phone' }).click();
  await expect(theirs.getByText('Passkey removed. It cannot be used to sign in.')).toBeVisible();
  await theirs.request.post('/api/sign-out');
  await theirs.goto('/sign-in');
  await theirs.getByRole('button', { name: 'Sign in with a passkey' }).click();
  await expect(theirs.locator('main').getByRole('alert')).toBeVisible();
  expect((await theirs.request.get('/api/me')).status()).toBe(401);
});

test('a job is shared with somebody who saw nothing, and a copy of it is theirs', async ({
  page,
  browser,
}) => {
  const guest = await (await browser.newContext()).newPage();
  const name = await become(guest, 'scanner');
  await guest.goto('/jobs');
  await expect(guest.getByText('No job is shared with you yet')).toBeVisible();
  await page.goto('/jobs');
  await page
    .getByRole('link', { name: /packet/i })
    .first()
    .click();
  await page.getByRole('heading', { level: 1 }).getByRole('button').click();
  await page.getByRole('button', { name: `with ${name}` }).click();
  await expect(page.getByText('as a Viewer').first()).toBeVisible();
  await guest.reload();
  await guest
    .getByRole('link', { name: /packet/i })
    .first()
    .click();
  await expect(guest.getByText('you can view it')).toBeVisible();
  const job = guest.url();
  await guest.getByRole('button', { name: 'you can view it' }).click();
  await guest.getByRole('button', { name: 'Make my own copy' }).click();
  await expect(guest.getByRole('heading', { name: new RegExp(`of ${name}`) })).toBeVisible();
  // the copy may be changed
  await guest.getByRole('heading', { level: 1 }).getByRole('button').click();
  await guest.getByLabel('Name of this job').fill('Mine to try things');
  await guest.getByRole('button', { name: 'Rename' }).click();
  await expect(guest.getByRole('heading', { name: 'Mine to try things' })).toBeVisible();
  // no longer shared, the original is gone for them, and the copy stays
  await page.getByRole('button', { name: new RegExp(`Stop sharing with ${name}`) }).click();
  await guest.goto(job);
  await expect(guest.getByText('This page does not exist')).toBeVisible();
  await guest.goto('/jobs');
  await expect(guest.getByRole('link', { name: 'Mine to try things' })).toBeVisible();
});

test('whoever only looks finds no control that changes, drives all there are, and changes nothing', async ({
  page,
  browser,
}) => {
  test.setTimeout(600_000);
  const { jobs } = (await (await page.request.get('/api/jobs')).json()) as {
    jobs: { id: number; name: string; on: string }[];
  };
  const state = async () => {
    const all = await Promise.all(
      jobs.map(async ({ id }) => (await page.request.get(`/api/jobs/${id}`)).json()),
    );
    return all.map(
      (job: { version: number; name: string; list: { revision: number; name: string } }) => [
        job.name,
        job.version,
        job.list.name,
        job.list.revision,
      ],
    );
  };
  const looker = await (await browser.newContext()).newPage();
  await become(looker, 'viewer');
  const asks = allRoutes
    .filter(([, route]) => route.asks)
    .map(([, route]) => new RegExp(`^${route.method} ${route.path.replace(/\{\w+\}/g, '[^/]+')}$`));
  const sent: string[] = [];
  const refused: string[] = [];
  looker.on('request', (request) => {
    const what = `${request.method()} ${new URL(request.url()).pathname}`;
    if (request.method() !== 'GET' && !asks.some((route) => route.test(what))) sent.push(what);
  });
  looker.on('response', (response) => {
    if ([401, 403].includes(response.status()))
      refused.push(`${response.request().method()} ${response.url()}`);
  });
  const before = await state();
  // one of each ground, and the one with secrets
  const chosen = [...new Map(jobs.map((job) => [job.on.split(/[ ,]/)[0], job])).values()].slice(
    0,
    4,
  );
  let pressed = 0;
  for (const { id } of new Set([...chosen, jobs.find((job) => /Badges/.test(job.name))!])) {
    // what is above every band is tried once
    const driven = new Set<string>();
    for (const band of ['records', 'stamps', 'piece', 'run']) {
      await looker.goto(`/jobs/${id}?band=${band}`);
      await expect(looker.getByText('you can view it')).toBeVisible();
      await expect(looker.locator('#row-0')).toBeVisible();
      const controls =
        'main button:visible, main [role=button]:visible, main input[type=checkbox]:visible';
      // what a control opens is driven too, and then closed
      const labels = await looker
        .locator(controls)
        .evaluateAll((all) => [
          ...new Set(
            all.map((one) => one.getAttribute('aria-label') ?? one.textContent?.trim() ?? ''),
          ),
        ]);
      for (const label of labels.slice(0, 60)) {
        if (label === '' || driven.has(label) || /you can view it|What you may/.test(label))
          continue;
        driven.add(label);
        const control = looker
          .locator(controls)
          .filter({ visible: true })
          .and(
            looker
              .getByRole('button', { name: label, exact: true })
              .or(looker.getByRole('checkbox', { name: label, exact: true })),
          );
        if ((await control.count()) === 0) continue;
        await control
          .first()
          .click({ timeout: 1000 })
          .catch(() => undefined);
        pressed++;
        const inside = looker.locator('[role=dialog] button:visible');
        for (let i = 0; i < Math.min(6, await inside.count()); i++)
          await inside
            .nth(i)
            .click({ timeout: 1000 })
            .catch(() => undefined);
        await looker.keyboard.press('Escape');
      }
      await looker.goto(`/jobs/${id}?band=${band}`);
      await expect(looker.locator('#row-0')).toBeVisible();
      for (const key of [
        'Enter',
        'x',
        'Delete',
        'F2',
        'Backspace',
        'Control+z',
        'Control+y',
        't',
        'ArrowDown',
        'ArrowRight',
        'Control+v',
      ])
        await looker.keyboard.press(key);
      await expect(looker.locator('[role=grid] input:not([type=checkbox])')).toHaveCount(0);
    }
  }
  for (const path of [
    '/jobs',
    '/lists',
    '/code',
    '/bring-in',
    '/post-room',
    '/settings',
    '/people',
    '/journal',
  ]) {
    await looker.goto(path);
    await expect(looker.locator('main')).toBeVisible();
    await clean(looker);
  }
  expect(pressed).toBeGreaterThan(60);
  expect(sent).toEqual([]);
  expect(refused).toEqual([]);
  expect(await state()).toEqual(before);
});

test('two people on one job see each other, and at which record', async ({ page, browser }) => {
  const { jobs } = (await (await page.request.get('/api/jobs')).json()) as {
    jobs: { id: number; name: string }[];
  };
  const { id } = jobs.find((job) => /Badges/.test(job.name))!;
  await page.goto(`/jobs/${id}`);
  await expect(page.locator('#row-0')).toBeVisible();
  const other = await (await browser.newContext()).newPage();
  const name = await become(other, 'editor');
  await other.goto(`/jobs/${id}`);
  await expect(page.getByRole('status').getByText(name)).toBeVisible();
  await expect(other.getByRole('status').getByText('Ines Tarrow')).toBeVisible();
  for (let i = 0; i < 3; i++) await other.keyboard.press('ArrowDown');
  await expect(page.getByRole('status').getByRole('button', { name: 'record 4' })).toBeVisible();
  await expect(page.locator('#row-3').getByText('OB')).toBeVisible();
  await clean(page);
  await other.close();
  await expect(page.getByRole('status').getByText(name)).toHaveCount(0, { timeout: 40_000 });
});

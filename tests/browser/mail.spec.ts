import { expect, test } from '../helpers/browser';
import { clean } from '../helpers/axe';
import { bringIn } from '../helpers/screen';

const list = `Badge,Name,E-mail,Shift
DH-0142,Ines Okafor,ines@post.example,Sun morning
DH-0143,Tam Bellweather,tam@post.example,Sat morning
DH-0144,Rune Castellan,rune@post.example,Sat morning
DH-0145,Odalys Penhallow,odalys at post,Sun morning
`;

test('mails are written in the sentence, tried on oneself, sent, and lie in the Out-tray as their readers see them', async ({
  page,
}) => {
  await bringIn(page, 'stewards.csv', list);
  await page.keyboard.press('4');
  await page.getByTitle('What is made').click();
  await page.getByRole('option', { name: /an email to each person/ }).click();
  const letter = page.getByRole('article', { name: /^Email to/ });
  await expect(letter).toContainText('Hello Ines Okafor,');
  await expect(letter.locator('svg')).toBeVisible();
  await page.getByRole('button', { name: 'Next record' }).click();
  await expect(letter).toContainText('Hello Tam Bellweather,');

  // edited, with a column inserted at the caret
  await page.getByTitle('Text of the email').click();
  await page.getByRole('button', { name: 'Another paragraph' }).click();
  // the new paragraph has the caret with the next picture of the screen
  await expect(page.locator('textarea:focus, input:focus')).toHaveValue('');
  await page.keyboard.type('Your gate opens for the ');
  await page.getByRole('button', { name: 'Shift', exact: true }).click();
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(letter).toContainText('Your gate opens for the Sat morning');

  await page.getByTitle('Attachments').click();
  await page.getByRole('option', { name: 'the piece as a PDF attached' }).click();
  // a person without a valid address is left out, with the reason
  await page.getByTitle('What is left out, and why').click();
  await expect(page.getByText('“odalys at post” is not an email address')).toBeVisible();
  await page.keyboard.press('Escape');

  await page.getByTitle('Send a test email to yourself').click();
  await page.getByLabel('Your email address').fill('not me');
  await expect(page.getByRole('button', { name: 'Send test email' })).toBeDisabled();
  await page.getByLabel('Your email address').fill('me@marrambay.example');
  await page.getByRole('button', { name: 'Send test email' }).click();
  await expect(page.getByText('1 email sent, to me@marrambay.example instead')).toBeVisible({
    timeout: 60_000,
  });

  // and then to two that are ticked
  await page.getByRole('checkbox', { name: /Tick Tam Bellweather/ }).check();
  await page.getByRole('checkbox', { name: /Tick Rune Castellan/ }).check();
  await page.getByTitle('Which records').click();
  await page.getByRole('option', { name: /ticked/ }).click();
  await page.getByRole('button', { name: 'Send 2 emails' }).click();
  await expect(page.getByRole('heading', { name: '2 emails go out to people' })).toBeVisible();
  await clean(page);
  await page.getByRole('button', { name: 'Send now' }).click();
  await expect(page.getByText('2 emails sent')).toBeVisible({ timeout: 60_000 });
  // people who had one are listed, and get no other
  await page.reload();
  await page.getByTitle('What is made').click();
  await page.getByRole('option', { name: /an email to each person/ }).click();
  await expect(letter).toContainText('already had an email from this job');

  await page.getByRole('link', { name: 'Post room' }).click();
  const mails = page.getByRole('list', { name: 'Emails' });
  await expect(mails.getByRole('listitem')).not.toHaveCount(0);
  await mails.getByRole('button', { name: /me@marrambay\.example/ }).click();
  const dialog = page.getByRole('dialog');
  const frame = dialog.frameLocator('iframe');
  await expect(frame.getByText('Your gate opens for the Sat morning')).toBeVisible();
  const picture = frame.getByRole('img');
  await expect(picture).toBeVisible();
  expect(await picture.getAttribute('src')).toMatch(/^data:image\/png;base64,/);
  await expect(dialog.getByRole('link', { name: /DH-0143\.pdf/ })).toBeVisible();
  await clean(page);
});

test('the mail server is told in a sentence, tried, and its refusal is told in its words', async ({
  page,
}) => {
  await page.goto('/settings');
  await page.getByTitle('Test the mail server').click();
  await page.getByLabel('Test email to').fill('gone.away@post.example');
  await page.getByRole('button', { name: 'Send', exact: true }).click();
  await expect(page.getByText('There is no such mailbox')).toBeVisible();
  await page.getByLabel('Test email to').fill('here@post.example');
  await page.getByRole('button', { name: 'Send', exact: true }).click();
  await expect(page.getByText('Test email sent.')).toBeVisible();
  await clean(page);
});

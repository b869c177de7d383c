import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { MailServerChange, MailServerView } from '../../../src/contract';
import { MailServerSettings } from '../../../src/ui/features/settings/mail-server';
import { answering, Refused, type Asked } from '../../helpers/answers';
import { show } from '../../helpers/page';

const said: MailServerChange = {
  host: 'mail.marrambay.example',
  port: 465,
  tls: 'yes',
  user: 'codes',
  senderName: 'Marram Bay',
  sender: 'codes@marrambay.example',
  pace: 60,
  notices: '',
};
const kept: MailServerView = { ...said, hasPassword: true };
let server: MailServerView | null;
beforeEach(() => void (server = kept));
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});
function page(more: Parameters<typeof answering>[0] = {}) {
  const asked = answering({
    viewMailServer: () => ({ server }),
    changeMailServer: () => ({ ok: true as const }),
    ...more,
  });
  const problem = vi.fn<(text: string) => void>();
  const { container } = show(<MailServerSettings onProblem={problem} />);
  return { asked, problem, text: () => container.textContent };
}
const sent = (asked: Asked[], route: Asked['route']) =>
  asked.filter((one) => one.route === route).map((one) => one.body);
const press = async (name: string) => userEvent.click(await screen.findByRole('button', { name }));
const open = async (label: string) => userEvent.click(await screen.findByTitle(label));
const type = (label: string, value: string) =>
  fireEvent.change(screen.getByLabelText(label), { target: { value } });

test('by which server mails leave is read as a sentence, without its password', async () => {
  const { text } = page();
  await waitFor(() =>
    expect(text()).toContain(
      'Emails leave by mail.marrambay.example, port 465, encrypted (TLS) as codes, with the saved password, from Marram Bay <codes@marrambay.example>, up to 60 a minute. When a run is done, a notice goes to nobody.',
    ),
  );
});

test('a part that is changed takes the rest along as it is, and never a password', async () => {
  const { asked } = page();
  await open('Who gets notices');
  type('Notices go to', 'desk@marrambay');
  expect(await screen.findByText('“desk@marrambay” is not an email address')).toBeTruthy();
  expect(screen.getByRole('button', { name: 'Apply' }).hasAttribute('disabled')).toBe(true);
  type('Notices go to', ' desk@marrambay.example ');
  await press('Apply');
  await waitFor(() =>
    expect(sent(asked, 'changeMailServer')).toEqual([
      { ...said, notices: 'desk@marrambay.example' },
    ]),
  );
});

test('who mails come from is an address that there can be', async () => {
  const { asked } = page();
  await open('Sender of emails');
  type('Email address', 'codes@marrambay.example, desk@marrambay.example');
  expect(await screen.findByText(/is more than one email address/)).toBeTruthy();
  type('Email address', 'desk@marrambay.example');
  type('Name', ' The desk ');
  await press('Apply');
  await waitFor(() =>
    expect(sent(asked, 'changeMailServer')).toEqual([
      { ...said, senderName: 'The desk', sender: 'desk@marrambay.example' },
    ]),
  );
});

test('what the server refuses is told where the page tells it', async () => {
  const { problem } = page({
    changeMailServer: () => new Refused(400, 'Give the password again.'),
  });
  await open('Who gets notices');
  type('Notices go to', 'desk@marrambay.example');
  await press('Apply');
  await waitFor(() => expect(problem).toHaveBeenCalledWith('Give the password again.'));
});

test('it is tried with a mail, and its own words are told until one leaves', async () => {
  let refuses = true;
  const { asked } = page({
    tryMailServer: () =>
      refuses
        ? new Refused(502, 'mail.marrambay.example says: 535 wrong password')
        : { ok: true as const },
  });
  await open('Test the mail server');
  expect(screen.getByRole('button', { name: 'Send' }).hasAttribute('disabled')).toBe(true);
  type('Test email to', 'ida@marrambay.example');
  await press('Send');
  expect(await screen.findByText(/535 wrong password/)).toBeTruthy();
  refuses = false;
  await press('Send');
  expect(await screen.findByText('Test email sent.')).toBeTruthy();
  expect(screen.queryByText(/535/)).toBeNull();
  await press('Close');
  expect(sent(asked, 'tryMailServer')).toHaveLength(2);
});

test('where there is none, one is said in a form; a blank password is none that was said', async () => {
  server = null;
  const { asked } = page();
  await screen.findByLabelText('Mail server (SMTP host)');
  const keep = screen.getByRole('button', { name: 'Save' });
  expect(keep.hasAttribute('disabled')).toBe(true);
  expect(screen.queryByRole('button', { name: 'Cancel' })).toBeNull();
  type('Mail server (SMTP host)', 'mail.marrambay.example');
  type('Sender email address', 'codes@marrambay.example');
  await userEvent.click(keep);
  await waitFor(() => expect(sent(asked, 'changeMailServer')).toHaveLength(1));
  expect(sent(asked, 'changeMailServer')[0]).toEqual({
    host: 'mail.marrambay.example',
    port: 465,
    tls: 'yes',
    user: '',
    senderName: '',
    sender: 'codes@marrambay.example',
    pace: 60,
    notices: '',
  });
});

test.each(['smtp', '0', '65536', '4 65', '46.5'])(
  'a port that is none is told in words and not sent: %s',
  async (port) => {
    server = null;
    const { asked } = page();
    await screen.findByLabelText('Port');
    type('Mail server (SMTP host)', 'mail.marrambay.example');
    type('Sender email address', 'codes@marrambay.example');
    type('Port', port);
    expect(screen.getByText(new RegExp(`“${port}” is not a port`))).toBeTruthy();
    fireEvent.submit(screen.getByLabelText('Port').closest('form')!);
    expect(sent(asked, 'changeMailServer')).toEqual([]);
    type('Port', '587');
    expect(screen.queryByText(/is not a port/)).toBeNull();
  },
);

test('another server is said, or left as it was', async () => {
  const { asked, text } = page();
  await open('Mail server');
  await press('Change server');
  const host = await screen.findByLabelText<HTMLInputElement>('Mail server (SMTP host)');
  expect(host.value).toBe('mail.marrambay.example');
  expect(screen.getByLabelText<HTMLInputElement>('Password').value).toBe('');
  await press('Cancel');
  await waitFor(() => expect(text()).toContain('Emails leave by'));
  await open('Mail server');
  await press('Change server');
  await screen.findByLabelText('Password');
  type('Mail server (SMTP host)', 'post.marrambay.example');
  type('Password', 'thrift and samphire');
  await userEvent.click(screen.getByTitle('Encryption'));
  await userEvent.click(await screen.findByRole('option', { name: /STARTTLS/ }));
  await press('Save');
  await waitFor(() => expect(sent(asked, 'changeMailServer')).toHaveLength(1));
  expect(sent(asked, 'changeMailServer')[0]).toMatchObject({
    host: 'post.marrambay.example',
    tls: 'after',
    password: 'thrift and samphire',
  });
});

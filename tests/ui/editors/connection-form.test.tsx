import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, expect, test, vi } from 'vitest';
import { ConnectionForm } from '../../../src/ui/editors/connection-form';
import { portOf, portTrouble } from '../../../src/ui/kit/port';
import { answering, Refused } from '../../helpers/answers';
import { show } from '../../helpers/page';

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});
const type = (label: string | RegExp, value: string) =>
  fireEvent.change(screen.getByLabelText(label), { target: { value } });
const keep = () => screen.getByRole('button', { name: 'Test and save' });
const blank = () => keep().hasAttribute('disabled');
function filled() {
  type('Name of this connection', 'Garden');
  type('Server (host)', 'db.marrambay.example');
  type('Database', 'garden');
  type(/^User/, 'reader');
}

test.each([
  ['5432', 5432],
  [' 465 ', 465],
  ['1', 1],
  ['65535', 65535],
  ['0', undefined],
  ['65536', undefined],
  ['', undefined],
  ['5432.0', undefined],
  ['-1', undefined],
  ['1e3', undefined],
  ['５４３２', undefined],
])('a port is a whole number up to 65535: %j', (typed, port) => {
  expect(portOf(typed)).toBe(port);
  expect(portTrouble(typed, '5432') === undefined).toBe(port !== undefined || typed === '');
});

test('a connection is tried and kept with everything that was said', async () => {
  const asked = answering({ keepConnection: () => ({ id: 8 }) });
  const kept = vi.fn<(id: number) => void>();
  show(<ConnectionForm onKept={kept} />);
  expect(blank()).toBe(true);
  filled();
  type('Password', 'samphire');
  await userEvent.click(screen.getByTitle('Encryption'));
  await userEvent.click(await screen.findByRole('option', { name: /certificate not checked/ }));
  await userEvent.click(keep());
  await waitFor(() => expect(kept).toHaveBeenCalledExactlyOnceWith(8));
  expect(asked.map((one) => one.body)).toEqual([
    {
      name: 'Garden',
      host: 'db.marrambay.example',
      port: 5432,
      database: 'garden',
      username: 'reader',
      password: 'samphire',
      tls: 'unchecked',
    },
  ]);
});

test('a port that is none is told in words, and nothing is sent with it', async () => {
  const asked = answering({ keepConnection: () => ({ id: 8 }) });
  show(<ConnectionForm onKept={() => undefined} />);
  filled();
  expect(blank()).toBe(false);
  type('Port', 'postgres');
  expect(screen.getByText(/“postgres” is not a port/)).toBeTruthy();
  expect(blank()).toBe(true);
  fireEvent.submit(screen.getByLabelText('Port').closest('form')!);
  await Promise.resolve();
  expect(asked).toEqual([]);
  type('Port', '');
  expect(screen.queryByText(/is not a port/)).toBeNull();
  expect(blank()).toBe(true);
});

test('one that cannot be reached is told, and everything typed stays', async () => {
  answering({
    keepConnection: () => new Refused(400, 'db.marrambay.example does not answer on port 5432.'),
  });
  const kept = vi.fn<(id: number) => void>();
  show(<ConnectionForm onKept={kept} />);
  filled();
  await userEvent.click(keep());
  expect(await screen.findByText(/does not answer on port 5432/)).toBeTruthy();
  expect(screen.getByLabelText<HTMLInputElement>('Database').value).toBe('garden');
  expect(kept).not.toHaveBeenCalled();
});

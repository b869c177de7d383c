import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { PrinterView, PrintJobView } from '../../../src/contract';
import { Printers } from '../../../src/ui/features/post-room/printers';
import { answering, Refused, type Asked } from '../../helpers/answers';
import { show } from '../../helpers/page';

const job = (id: number, state: PrintJobView['state'], more: Partial<PrintJobView> = {}) => ({
  id,
  name: `Badges ${id}`,
  sheets: 12,
  printed: 0,
  state,
  reason: '',
  sent: '2026-11-28T09:00:00.000Z',
  ...more,
});
const standIn: PrinterView = {
  id: 1,
  name: 'Desk',
  dpi: 300,
  offsetX: 0,
  offsetY: 0,
  finest: null,
  real: false,
  address: null,
  facts: null,
  asked: null,
  trouble: null,
  faults: [],
  intoTray: true,
  jobs: [],
};
const real: PrinterView = {
  ...standIn,
  id: 2,
  name: 'Office',
  real: true,
  address: 'ipp://printer.marrambay.example/ipp/print',
  intoTray: false,
};
let printers: PrinterView[];
beforeEach(() => void (printers = [standIn, real]));
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});
const server = (more: Parameters<typeof answering>[0] = {}) =>
  answering({
    listPrinters: () => ({ printers }),
    changePrinter: () => ({ ok: true as const }),
    ...more,
  });
const sent = (asked: Asked[], route: Asked['route']) => asked.filter((one) => one.route === route);
const rowsOf = async (name: string) =>
  within(await screen.findByRole('list', { name: `Sent to ${name}` }));

test('what became of each job is said in words, with how far it came', async () => {
  printers = [
    {
      ...standIn,
      jobs: [
        job(1, 'printing', { printed: 3 }),
        job(2, 'held', { reason: 'it is out of paper' }),
        job(3, 'printed', { printed: 12 }),
        job(4, 'failed', { printed: 1, sheets: 1, reason: 'it was refused' }),
        job(5, 'unsure'),
        job(6, 'waiting'),
      ],
    },
  ];
  server();
  show(<Printers />);
  const rows = (await rowsOf('Desk')).getAllByRole('listitem').map((row) => row.textContent);
  expect(rows[0]).toContain('printing, 3 of 12 sheets');
  expect(rows[1]).toContain('it is out of paper');
  expect(rows[1]).toContain('held, 12 sheets');
  expect(rows[2]).toContain('printed, 12 sheets');
  expect(rows[3]).toContain('not printed, 1 of 1 sheet');
  expect(rows[4]).toContain('perhaps printed');
  // only what is on its way can be stopped
  const stops = (await rowsOf('Desk')).getAllByRole('button', { name: 'Stop' });
  expect(stops).toHaveLength(3);
});

test('a change says only what it changes, and faults ticked one after the other all count', async () => {
  const asked = server();
  show(<Printers />);
  await userEvent.click((await screen.findAllByTitle('Dots per inch'))[0]!);
  await userEvent.click(await screen.findByRole('button', { name: '600' }));
  await userEvent.click(screen.getByTitle('Its sheets'));
  await userEvent.click(await screen.findByRole('checkbox', { name: 'with a crease' }));
  await userEvent.click(screen.getByRole('checkbox', { name: 'with dead nozzles' }));
  await userEvent.click(screen.getByRole('checkbox', { name: 'with a crease' }));
  await waitFor(() => expect(sent(asked, 'changePrinter')).toHaveLength(4));
  expect(sent(asked, 'changePrinter').map((one) => one.body)).toEqual([
    { dpi: 600 },
    { faults: ['crease'] },
    { faults: ['crease', 'nozzle'] },
    { faults: ['nozzle'] },
  ]);
});

test('a printer that is off says so where it stands, and is asked again', async () => {
  printers = [{ ...real, trouble: 'it did not answer', asked: '2026-11-28T09:00:00.000Z' }];
  const asked = server({ askPrinter: () => ({ ok: true as const }) });
  show(<Printers />);
  expect(
    await screen.findByText(/No details from this printer yet; last checked it did not answer\./),
  ).toBeTruthy();
  await userEvent.click(screen.getByRole('button', { name: 'Check again' }));
  await waitFor(() =>
    expect(sent(asked, 'askPrinter').map((one) => one.params)).toEqual([{ id: '2' }]),
  );
});

test('what it says of itself is read in a sentence', async () => {
  printers = [
    {
      ...real,
      facts: {
        model: 'Marram 40',
        takesPdf: true,
        papers: [{ width: 210, height: 297 }],
        loaded: [],
        blank: { left: 4, right: 4, top: 3, bottom: 4 },
        dpi: [600, 1200],
        trouble: null,
      },
    },
  ];
  server();
  show(<Printers />);
  expect(
    await screen.findByText(
      /Marram 40, .* can be put in, 600 and 1200 dots per inch, to 4 mm from the edge\./,
    ),
  ).toBeTruthy();
});

test('a test page that does not fit is told with why, and nothing else is', async () => {
  let fits = false;
  const asked = server({
    printTestPage: () =>
      fits
        ? { sent: true, against: [], waits: null }
        : { sent: false, against: ['It has no paper of this size.'], waits: null },
  });
  show(<Printers />);
  await userEvent.click((await screen.findAllByRole('button', { name: 'Print test page' }))[1]!);
  expect((await screen.findByRole('alert')).textContent).toBe(
    'The test page was not sent. It has no paper of this size.',
  );
  fits = true;
  await userEvent.click(screen.getAllByRole('button', { name: 'Print test page' })[1]!);
  await waitFor(() => expect(screen.queryByRole('alert')).toBeNull());
  expect(sent(asked, 'printTestPage').map((one) => one.params)).toEqual([{ id: '2' }, { id: '2' }]);
});

test('a printer more: what was typed stays where it is refused', async () => {
  let refuses = true;
  const asked = server({
    addPrinter: () =>
      refuses
        ? new Refused(400, 'A printer is already called Shed already.')
        : { ok: true as const },
  });
  show(<Printers />);
  const open = async () => userEvent.click(await screen.findByTitle('Add a printer'));
  await open();
  await userEvent.type(screen.getByLabelText('Name'), 'Shed');
  expect(screen.getByRole('button', { name: 'Add printer' }).hasAttribute('disabled')).toBe(true);
  await userEvent.type(screen.getByLabelText('Address'), 'ipp://shed.marrambay.example/ipp');
  await userEvent.click(screen.getByRole('button', { name: 'Add printer' }));
  expect((await screen.findByRole('alert')).textContent).toContain('called Shed already');
  await open();
  expect(screen.getByLabelText<HTMLInputElement>('Name').value).toBe('Shed');
  refuses = false;
  await userEvent.click(screen.getByRole('button', { name: 'Add printer' }));
  await waitFor(() => expect(screen.queryByRole('alert')).toBeNull());
  expect(sent(asked, 'addPrinter')).toHaveLength(2);
  await open();
  expect(screen.getByLabelText<HTMLInputElement>('Name').value).toBe('');
});

test('who changes but does not keep sends and stops, and says nothing of the printer itself', async () => {
  printers = [{ ...standIn, jobs: [job(1, 'printing')] }];
  const asked = server({ stopPrintJob: () => ({ ok: true as const }) });
  show(<Printers />, 'editor');
  await userEvent.click((await rowsOf('Desk')).getByRole('button', { name: 'Stop' }));
  await waitFor(() => expect(sent(asked, 'stopPrintJob')).toHaveLength(1));
  expect(screen.queryByTitle('Add a printer')?.tagName).not.toBe('BUTTON');
  expect(screen.queryByRole('button', { name: /300 dots per inch/ })).toBeNull();
});

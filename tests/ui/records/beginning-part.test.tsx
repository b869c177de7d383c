import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { afterEach, expect, test, vi } from 'vitest';
import type { Column } from '../../../src/core/records/columns';
import type { WorkedSource } from '../../../src/core/records/beginnings';
import { BeginningPart } from '../../../src/ui/features/records/worked/beginning-part';
import { JobScreenContext, type JobScreenState } from '../../../src/ui/shell/ledger/context';

const before: Column[] = [
  { id: 'c1', name: 'Item', role: 'name' },
  { id: 'c2', name: 'Tag', role: 'key' },
];
const proofOf = (columns: string[]): WorkedSource => ({
  kind: 'proof',
  columns,
  key: 'ab'.repeat(32),
});

/** What a column begins with, in its sentence; what is said there stays. */
function Sentence({ start, said }: { start: WorkedSource; said: (source: WorkedSource) => void }) {
  const [source, setSource] = useState(start);
  return (
    <p>
      <BeginningPart
        column={{ id: 'w', name: 'Label', role: 'text' }}
        worked={{ source, steps: [] }}
        before={before}
        change={(next) => (setSource(next), said(next))}
      />
    </p>
  );
}

function sentence(start: WorkedSource, stamps = ['Door', 'Shelf']) {
  const said = vi.fn<(source: WorkedSource) => void>();
  // no row is in hand, so that nothing is asked of the server
  const job = {
    job: {
      list: { id: 4, revision: 1, columns: before },
      document: { stamps: stamps.map((name, i) => ({ id: `stamp-${i + 1}`, name })) },
    },
  } as unknown as JobScreenState;
  const { container } = render(
    <QueryClientProvider client={new QueryClient()}>
      <JobScreenContext.Provider value={job}>
        <Sentence start={start} said={said} />
      </JobScreenContext.Provider>
    </QueryClientProvider>,
  );
  return { said, text: () => container.querySelector('p')!.textContent };
}
const open = () => userEvent.click(screen.getByTitle('What Label is made from'));
afterEach(cleanup);

test.each<[WorkedSource, string]>([
  [{ kind: 'series', start: 7, by: 1 }, 'a number in series from 7'],
  [{ kind: 'series', start: 100, by: 5 }, 'a number in series from 100 in steps of 5'],
  [
    { kind: 'secret', length: 12 },
    'a value that cannot be guessed, made once for each record and kept',
  ],
  [{ kind: 'page' }, 'the address of the record’s own page'],
  [
    { kind: 'link', for: 'one', parts: [{ kind: 'text', text: 'https://marram.example/' }] },
    'a short link for one person each, which leads to https://marram.example/',
  ],
  [proofOf(['c1', 'c2']), 'a proof of Item, Tag'],
  [proofOf([]), 'a proof of nothing yet'],
  [proofOf(['c9']), 'a proof of a deleted column'],
  [{ kind: 'join', parts: [] }, '(empty)'],
])('%j is said so', (source, words) => {
  expect(sentence(source).text()).toBe(words);
});

test('a picture is of the one stamp, or of that which is chosen', async () => {
  const picture: WorkedSource = { kind: 'picture', stamp: 'stamp-1' };
  expect(sentence(picture, ['Door']).text()).toBe(
    'the address of the picture of the record’s code',
  );
  expect(screen.queryByRole('button')).toBeNull();
  cleanup();
  const { said, text } = sentence(picture);
  expect(text()).toBe('the address of the picture of the code of Door');
  await userEvent.click(screen.getByRole('button'));
  await userEvent.click(await screen.findByText('Shelf'));
  expect(said).toHaveBeenLastCalledWith({ kind: 'picture', stamp: 'stamp-2' });
  expect(text()).toBe('the address of the picture of the code of Shelf');
});

test('where a series begins and by how much it goes on is typed; it is kept within its bounds', async () => {
  const { said, text } = sentence({ kind: 'series', start: 1, by: 1 });
  await open();
  const start = screen.getByLabelText('The first record has');
  await userEvent.clear(start);
  await userEvent.type(start, '250{Enter}');
  expect(said).toHaveBeenLastCalledWith({ kind: 'series', start: 250, by: 1 });
  const by = screen.getByLabelText('Each next one more by');
  await userEvent.clear(by);
  await userEvent.type(by, '5000{Enter}');
  expect(said).toHaveBeenLastCalledWith({ kind: 'series', start: 250, by: 1000 });
  expect(text()).toBe('a number in series from 250 in steps of 1000');
});

test('a proof vouches for the columns that are pressed, and not for those pressed again', async () => {
  const { said, text } = sentence(proofOf(['c1']));
  await open();
  await userEvent.click(screen.getByRole('button', { name: 'Tag' }));
  expect(said).toHaveBeenLastCalledWith(proofOf(['c1', 'c2']));
  await userEvent.click(screen.getByRole('button', { name: 'Item' }));
  expect(said).toHaveBeenLastCalledWith(proofOf(['c2']));
  expect(text()).toBe('a proof of Tag');
});

test('what is joined is changed only once it is used', async () => {
  const { said } = sentence({ kind: 'join', parts: [{ kind: 'column', column: 'c2' }] });
  await open();
  const [first] = screen.getAllByRole('textbox');
  await userEvent.type(first!, 'MB-');
  expect(said).not.toHaveBeenCalled();
  await userEvent.click(screen.getByRole('button', { name: /^Apply/ }));
  expect(said).toHaveBeenCalledOnce();
  expect(said.mock.calls[0]![0]).toEqual({
    kind: 'join',
    parts: [
      { kind: 'text', text: 'MB-' },
      { kind: 'column', column: 'c2' },
    ],
  });
});

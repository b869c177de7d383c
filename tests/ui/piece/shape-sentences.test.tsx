import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { afterEach, expect, test, vi } from 'vitest';
import { pieceSchema, type PieceElement } from '../../../src/core/piece/model';
import type { Column } from '../../../src/core/records/columns';
import {
  BoxSentence,
  PictureSentence,
  RuleSentence,
} from '../../../src/ui/features/piece/shape-sentences';
import { JobScreenContext, type JobScreenState } from '../../../src/ui/shell/ledger/context';
import { answering, Refused } from '../../helpers/answers';
import { show } from '../../helpers/page';

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

/** A thing in its sentence; what is said of it stands there, and can be kept. */
function said<E extends PieceElement>(
  start: E,
  Sentence: (props: { element: E; onChange: (next: PieceElement) => void }) => React.ReactNode,
) {
  const changed = vi.fn<(next: PieceElement) => void>();
  function Held() {
    const [element, setElement] = useState(start);
    return (
      <Sentence
        element={element}
        onChange={(next) => {
          pieceSchema.parse({ stock: 'x', elements: [next] });
          setElement(next as E);
          changed(next);
        }}
      />
    );
  }
  const columns: Column[] = [
    { id: 'c1', name: 'Photo', role: 'text' },
    { id: 'c2', name: 'Old', role: 'text', hidden: true },
  ];
  const job = { job: { list: { id: 4, columns } } } as unknown as JobScreenState;
  const { container } = show(
    <JobScreenContext.Provider value={job}>
      <Held />
    </JobScreenContext.Provider>,
  );
  return { changed, text: () => container.textContent };
}
const box = {
  kind: 'box' as const,
  id: 'b',
  x: 4,
  y: 4,
  width: 20.04,
  height: 10,
};
const measure = async (part: string, label: string, typed: string) => {
  await userEvent.click(screen.getByTitle(part));
  const field = await screen.findByLabelText(label);
  fireEvent.change(field, { target: { value: typed } });
  fireEvent.blur(field);
  await userEvent.keyboard('{Escape}');
};

test('a box is read with its size, what fills it and its border', async () => {
  const { text, changed } = said(box, BoxSentence);
  expect(text()).toBe('A box, 20 × 10 mm, not filled, no border.');
  await userEvent.click(screen.getByTitle('Fill'));
  await userEvent.click(await screen.findByRole('option', { name: 'filled' }));
  expect(changed.mock.lastCall![0]).toMatchObject({ fill: '#ebe6f6' });
  expect(screen.getByTitle('Colour of the box')).toBeTruthy();
  await measure('Border', 'Border, mm (0: none)', '0.5');
  expect(text()).toMatch(/filled with .*, a border of 0\.5 mm in .*\.$/);
  await userEvent.click(screen.getByTitle('Fill'));
  await userEvent.click(await screen.findByRole('option', { name: 'not filled' }));
  expect(changed.mock.lastCall![0]).toMatchObject({ fill: undefined });
});

test('a border that is too fine to be printed is none', async () => {
  const { text, changed } = said({ ...box, border: { mm: 0.5, colour: '#1d1a26' } }, BoxSentence);
  await measure('Border', 'Border, mm (0: none)', '0.03');
  expect(changed.mock.lastCall![0]).toMatchObject({ border: undefined });
  expect(text()).toContain('no border');
});

test('a size is typed to the hundredth of a millimetre and read to the tenth', async () => {
  const { text, changed } = said(
    { kind: 'rule' as const, id: 'r', x: 4, y: 4, width: 40, height: 0.3, colour: '#1d1a26' },
    RuleSentence,
  );
  expect(text()).toMatch(/^A rule, 40 × 0\.3 mm, in /);
  await measure('Size', 'Width, mm', '41.26');
  expect(changed.mock.lastCall![0]).toMatchObject({ width: 41.26, height: 0.3 });
  expect(text()).toContain('41.3 × 0.3 mm');
});

const picture = { kind: 'picture' as const, id: 'p', x: 4, y: 4, width: 20, height: 20 };

test('a picture is the same on every piece, or the one that a column names', async () => {
  answering({ listPictureNames: () => ({ names: ['ida.png', 'odd.png'] }) });
  const { text, changed } = said(picture, PictureSentence);
  expect(text()).toBe('A picture, the same on every piece, choose it, at most 20 × 20 mm.');
  await userEvent.click(screen.getByTitle('Which picture'));
  const offered = await screen.findAllByRole('option');
  // a hidden column is not offered
  expect(offered.map((o) => o.textContent)).toEqual([
    'the same on every piece',
    expect.stringContaining('the one named in Photo'),
  ]);
  await userEvent.click(offered[1]!);
  expect(changed.mock.lastCall![0]).toMatchObject({ column: 'c1' });
  expect(text()).toContain('pictures of this list');
  await userEvent.click(screen.getByTitle('Picture'));
  expect(await screen.findByText(/2 pictures are saved for this list/)).toBeTruthy();
});

test('pictures are fetched from their addresses part by part, and those that did not come are told', async () => {
  let asked = 0;
  answering({
    listPictureNames: () => ({ names: [] }),
    fetchListPictures: ({ body }) => {
      asked++;
      return (body as { after?: string }).after === undefined
        ? { kept: 60, failed: [], next: 'n', left: 12 }
        : {
            kept: 11,
            failed: [{ address: 'https://marrambay.example/odd.png', reason: 'it is no picture' }],
            next: null,
            left: 0,
          };
    },
  });
  said({ ...picture, column: 'c1' }, PictureSentence);
  await userEvent.click(screen.getByTitle('Picture'));
  await userEvent.click(await screen.findByRole('button', { name: /Download from their/ }));
  expect(
    await screen.findByText(
      '71 downloaded; 1 could not be downloaded: https://marrambay.example/odd.png, it is no picture.',
    ),
  ).toBeTruthy();
  expect(asked).toBe(2);
});

test('a fetch that fails half way is told, and can be begun again', async () => {
  let away = true;
  answering({
    listPictureNames: () => ({ names: [] }),
    fetchListPictures: () =>
      away
        ? new Refused(503, 'Too much is asked at once. Try it again in a moment.')
        : {
            kept: 1,
            failed: [],
            next: null,
            left: 0,
          },
  });
  said({ ...picture, column: 'c1' }, PictureSentence);
  await userEvent.click(screen.getByTitle('Picture'));
  const fetch = await screen.findByRole('button', { name: /Download from their/ });
  await userEvent.click(fetch);
  expect(await screen.findByText(/Try it again in a moment/)).toBeTruthy();
  away = false;
  await userEvent.click(fetch);
  expect(await screen.findByText('1 downloaded.')).toBeTruthy();
  await waitFor(() => expect(screen.queryByText(/Try it again in a moment/)).toBeNull());
});

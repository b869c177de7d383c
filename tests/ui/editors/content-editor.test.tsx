import { cleanup, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, test, vi } from 'vitest';
import { firstStamp, type Part, type Stamp } from '../../../src/core/payload/stamp';
import type { Column, Values } from '../../../src/core/records/columns';
import { withColumn, withGaps, withoutGaps } from '../../../src/ui/editors/chips';
import { BenchContext } from '../../../src/ui/editors/stamp/bench';
import { ContentEditor } from '../../../src/ui/editors/stamp/content-editor';
import { show } from '../../helpers/page';

const columns: Column[] = [
  { id: 'c1', name: 'Tag', role: 'key' },
  { id: 'c2', name: 'Bed', role: 'text' },
  { id: 'c3', name: 'Word', role: 'text', secret: true },
];
const text = (said: string): Part => ({ kind: 'text', text: said });
const column = (id: string): Part => ({ kind: 'column', column: id });
/** As one reads it: columns in brackets. */
const read = (parts: readonly Part[]) =>
  parts.map((p) => (p.kind === 'text' ? p.text : `[${p.column}]`)).join('');

describe('a column goes in where the caret is', () => {
  const held = withGaps([text('a'), column('c1'), text('bc'), column('c2'), text('d')]);

  test.each([
    [{ part: 0, at: 1 }, 'a[new][c1]bc[c2]d'],
    [{ part: 0, at: 0 }, '[new]a[c1]bc[c2]d'],
    [{ part: 2, at: 1 }, 'a[c1]b[new]c[c2]d'],
    [{ part: 4, at: 9 }, 'a[c1]bc[c2]d[new]'],
    [{ part: 9, at: 0 }, 'a[c1]bc[c2]d[new]'],
  ])('%j', (caret, made) => {
    expect(read(withColumn(held, caret, 'new').held)).toBe(made);
  });

  test.each([0, 2, 4])('and the next one stands behind it, put in at %i', (part) => {
    for (const at of [0, 1, 2]) {
      const once = withColumn(held, { part, at }, 'x');
      const twice = withColumn(once.held, once.caret, 'y');
      const thrice = withColumn(twice.held, twice.caret, 'z');
      expect(read(thrice.held)).toContain('[x][y][z]');
      // and is otherwise as it was
      expect(read(thrice.held).replace('[x][y][z]', '')).toBe('a[c1]bc[c2]d');
      expect(withoutGaps(withGaps(thrice.held))).toEqual(withoutGaps(thrice.held));
    }
  });
});

const stamp = (parts: Part[]): Stamp => ({ ...firstStamp(columns), does: 'text', parts });

function editor(parts: Part[], values: Values = { c1: 'DH-0142', c2: 'B1', c3: 'otter' }) {
  const used = vi.fn<(parts: Part[], spaces?: Stamp['spaces']) => void>();
  show(
    <BenchContext.Provider value={{ columns, values }}>
      <ContentEditor parts={parts} columns={columns} stamp={stamp(parts)} onChange={used} />
    </BenchContext.Provider>,
  );
  return used;
}
const press = (name: string) => userEvent.click(screen.getByRole('button', { name }));
afterEach(cleanup);

test('what the record in hand then says is shown while it is typed, and used when it is', async () => {
  const used = editor([text('Bed '), column('c2')]);
  expect(screen.getByText('Bed B1')).toBeTruthy();
  expect(screen.getByRole('button', { name: 'In use' }).hasAttribute('disabled')).toBe(true);
  await userEvent.type(screen.getByLabelText('Text 2'), ', tag ');
  await press('Tag');
  expect(screen.getByText('Bed B1, tag DH-0142')).toBeTruthy();
  expect(used).not.toHaveBeenCalled();
  await press('Apply');
  expect(used).toHaveBeenCalledExactlyOnceWith(
    [text('Bed '), column('c2'), text(', tag '), column('c1')],
    undefined,
  );
});

test('two columns put in one after the other in the middle stand in that order', async () => {
  const used = editor([text('from to'), column('c2')]);
  const first = screen.getByLabelText<HTMLInputElement>('Text 1');
  await userEvent.click(first);
  first.setSelectionRange(5, 5);
  await userEvent.keyboard('{ArrowLeft}{ArrowRight}');
  await press('Tag');
  await press('Bed');
  await press('Apply');
  expect(read(used.mock.lastCall![0])).toBe('from [c1][c2]to[c2]');
});

test('a column taken out leaves its place for the next one, and joins the text around it', async () => {
  const used = editor([text('no '), column('c1'), text(' in '), column('c2')]);
  await press('Remove Tag');
  expect(screen.getByLabelText<HTMLInputElement>('Text 1').value).toBe('no  in ');
  await press('Bed');
  await press('Apply');
  expect(read(used.mock.lastCall![0])).toBe('no [c2] in [c2]');
});

test('a blank column is said, and what is not changed any more is in use', async () => {
  editor([text('Bed '), column('c2')], { c1: 'DH-0142' });
  expect(screen.getByText('nothing: a column of it is blank')).toBeTruthy();
  await userEvent.type(screen.getByLabelText('Text 1'), 'x');
  expect(screen.getByRole('button', { name: 'Apply' })).toBeTruthy();
  await userEvent.type(screen.getByLabelText('Text 1'), '{Backspace}');
  expect(screen.getByRole('button', { name: 'In use' })).toBeTruthy();
});

test('a secret stays masked in what is shown, also while it is being put in', async () => {
  editor([text('word ')]);
  await userEvent.click(screen.getByLabelText('Text 1'));
  await press('Word');
  expect(screen.queryByText(/otter/)).toBeNull();
  expect(screen.getByText(/^word \S/)).toBeTruthy();
});

test('a column that is gone is said so and can be taken out', async () => {
  const used = editor([column('c9'), text('end')]);
  expect(screen.getByText('a deleted column')).toBeTruthy();
  await press('Remove the column');
  await press('Apply');
  expect(used).toHaveBeenCalledExactlyOnceWith([text('end')], undefined);
});

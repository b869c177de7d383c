import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, test, vi } from 'vitest';
import type { Column } from '../../../src/core/records/columns';
import { ColumnEditor } from '../../../src/ui/features/records/column-editor';
import { ProblemsLine } from '../../../src/ui/features/records/problems-line';
import { JobScreenContext, type JobScreenState } from '../../../src/ui/shell/ledger/context';
import { wholeView, type View } from '../../../src/ui/shell/ledger/view';
import { answering, type Asked } from '../../helpers/answers';
import { show } from '../../helpers/page';

const columns: Column[] = [
  { id: 'c1', name: 'No', role: 'key' },
  { id: 'c2', name: 'Old', role: 'text', hidden: true },
  { id: 'c3', name: 'Item', role: 'name', source: 'Thing' },
  { id: 'c4', name: 'Away', role: 'text', hidden: true },
  { id: 'c5', name: 'Word', role: 'text', secret: true },
];
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});
const sent = (asked: Asked[], route: Asked['route']) =>
  asked.filter((one) => one.route === route).map((one) => one.body);
const press = async (name: string | RegExp) =>
  userEvent.click(await screen.findByRole('button', { name }));
const off = (name: string) => screen.getByRole('button', { name }).hasAttribute('disabled');

function screenOf(more: object = {}) {
  const state = {
    job: { id: 9, list: { id: 4, revision: 3, columns }, problems: [] },
    view: wholeView,
    setView: vi.fn<(view: Partial<View>) => void>(),
    revealed: new Set<string>(),
    reveal: vi.fn<(column: string, on: boolean) => void>(),
    jump: vi.fn<(to: unknown) => void>(),
    openBand: vi.fn<(band: string) => void>(),
    changeList: (work: () => Promise<unknown>) => work(),
    ...more,
  };
  return state;
}

describe('a column', () => {
  function editor(id: string, more: object = {}, right: 'editor' | 'viewer' = 'editor') {
    const asked = answering({ changeColumn: () => ({ ok: true as const }) });
    const state = screenOf(more);
    const close = vi.fn<() => void>();
    show(
      <JobScreenContext.Provider value={state as unknown as JobScreenState}>
        <ColumnEditor column={columns.find((c) => c.id === id)!} close={close} />
      </JobScreenContext.Provider>,
      right,
    );
    return { asked, state, close };
  }

  test('is moved past those that are hidden, so that it is seen to move', async () => {
    const { asked } = editor('c3');
    await press('Move left');
    await press('Move right');
    await waitFor(() =>
      expect(sent(asked, 'changeColumn')).toEqual([
        { does: 'move', id: 'c3', to: 0 },
        { does: 'move', id: 'c3', to: 4 },
      ]),
    );
    cleanup();
    editor('c1');
    expect([off('Move left'), off('Move right')]).toEqual([true, false]);
    cleanup();
    editor('c5');
    expect([off('Move left'), off('Move right')]).toEqual([false, true]);
  });

  test('is renamed with what it was called, so that nobody else’s name is lost', async () => {
    const { asked, close } = editor('c3');
    expect(screen.getByText('Called Thing in its source.')).toBeTruthy();
    expect(off('Rename')).toBe(true);
    fireEvent.change(screen.getByLabelText('Name'), { target: { value: ' Tool ' } });
    await press('Rename');
    await waitFor(() =>
      expect(sent(asked, 'changeColumn')).toEqual([
        { does: 'rename', id: 'c3', name: 'Tool', was: 'Item' },
      ]),
    );
    expect(close).toHaveBeenCalledTimes(1);
  });

  test('shows only some of its records, beside what is asked of other columns', async () => {
    const where = [
      { column: 'c1', is: 'filled' as const, text: '' },
      { column: 'c3', is: 'is' as const, text: 'Rake' },
    ];
    const { state, close } = editor('c3', { view: { ...wholeView, where } });
    expect(screen.getByLabelText<HTMLInputElement>('text').value).toBe('Rake');
    await press('holds');
    fireEvent.change(screen.getByLabelText('text'), { target: { value: 'Ra' } });
    await press('Show only those');
    expect(state.setView).toHaveBeenLastCalledWith({
      where: [where[0], { column: 'c3', is: 'holds', text: 'Ra' }],
    });
    expect(close).toHaveBeenCalledTimes(1);
    await press('is blank');
    // what was typed for another question is not asked along
    await press('Show only those');
    expect(state.setView).toHaveBeenLastCalledWith({
      where: [where[0], { column: 'c3', is: 'blank', text: '' }],
    });
    await press('Show all again');
    expect(state.setView).toHaveBeenLastCalledWith({ where: [where[0]] });
  });

  test('that is secret is shown on this screen for now, and masked again', async () => {
    const { state } = editor('c5');
    await press('Show it on this screen for now');
    expect(state.reveal).toHaveBeenLastCalledWith('c5', true);
    cleanup();
    const again = editor('c5', { revealed: new Set(['c5']) });
    await press('Hide it again');
    expect(again.state.reveal).toHaveBeenLastCalledWith('c5', false);
  });

  test('is sorted and filtered by whoever looks, and changed by nobody who does', () => {
    editor('c3', {}, 'viewer');
    expect(screen.getAllByRole('button').map((b) => b.textContent)).toEqual([
      'Sort A–Z, 0–9',
      'Sort Z–A, 9–0',
      'holds',
      'is',
      'is blank',
      'is filled',
      'Show only those',
    ]);
  });
});

describe('problems', () => {
  const row = (record: number, value: string, mended?: string, column = 'c3') => ({
    record,
    number: record,
    title: record === 3 ? '' : `Tool ${record}`,
    column,
    columnName: 'Item',
    text: '',
    value,
    mended,
  });
  function line() {
    const asked = answering({
      listProblems: () => ({
        rows: [
          row(1, ' Rake', 'Rake'),
          row(1, 'Barn ', 'Barn', 'c1'),
          row(2, '🌿 hoe ', '🌿 hoe'),
          row(3, 'a\u200bb', 'ab'),
          row(4, 'as it is'),
        ],
      }),
      mendProblems: () => ({ mended: 3 }),
    });
    const state = screenOf();
    (state.job as { problems: object[] }).problems = [
      { kind: 'spaces', records: 1 },
      { kind: 'blank', records: 1200 },
    ];
    const { container } = show(
      <JobScreenContext.Provider value={state as unknown as JobScreenState}>
        <ProblemsLine />
      </JobScreenContext.Provider>,
      'editor',
    );
    return { asked, state, text: () => container.textContent };
  }
  const open = async () => {
    await userEvent.click(screen.getAllByRole('button')[0]!);
    return screen.findByRole('region');
  };

  test('are counted in a sentence', () => {
    expect(line().text()).toMatch(/^ ?Check 1 .+ and 1,200 .+\.$/);
  });

  test('of spaces are made to be seen, also behind characters that take two places', async () => {
    line();
    const rows = await open();
    await waitFor(() => expect(rows.textContent).toContain('→'));
    expect(rows.textContent).toContain('␣Rake → Rake');
    expect(rows.textContent).toContain('🌿 hoe␣ → 🌿 hoe');
    expect(rows.textContent).toContain('a▯b → ab');
  });

  test('are mended but for those that are left out, each record once', async () => {
    const { asked } = line();
    await open();
    await userEvent.click(await screen.findByRole('checkbox', { name: 'Fix Tool 2' }));
    const mend = screen.getAllByRole('button').find((b) => /: 3$/.test(b.textContent ?? ''))!;
    await userEvent.click(mend);
    await waitFor(() =>
      expect(sent(asked, 'mendProblems')).toEqual([{ kind: 'spaces', records: [1, 3] }]),
    );
  });

  test('lead to their record, or are all that is shown', async () => {
    const { state } = line();
    await open();
    await press('record 3');
    expect(state.jump).toHaveBeenCalledExactlyOnceWith({ record: 3 });
    await open();
    await press('Show only these');
    expect(state.setView).toHaveBeenCalledExactlyOnceWith({
      problem: 'spaces',
      filter: 'all',
      q: '',
    });
  });
});

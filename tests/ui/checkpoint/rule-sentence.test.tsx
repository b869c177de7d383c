import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type { CheckpointView } from '../../../src/contract';
import { nobodyByOneself } from '../../../src/core/checkpoint/by-oneself';
import type { Right } from '../../../src/core/access/rights';
import { ruleSchema, sessionAt, type Rule } from '../../../src/core/checkpoint/rule';
import { RuleSentence } from '../../../src/ui/features/checkpoint/rule-sentence';
import { answering } from '../../helpers/answers';
import { show } from '../../helpers/page';

beforeEach(() => localStorage.setItem('hand-stamp usual settings', 'open'));

const volunteers = {
  id: 4,
  name: 'Volunteers',
  columns: [
    { id: 'c1', name: 'Name', role: 'name' as const },
    { id: 'c2', name: 'Shift', role: 'text' as const },
    { id: 'c3', name: 'Word', role: 'text' as const, secret: true },
  ],
  stamps: [
    { id: 's1', name: 'Door', proves: false },
    { id: 's2', name: 'Locker', proves: true },
  ],
};
const plain: Rule = {
  takes: [{ list: 4, stamps: [], genuine: false, holds: [], shows: [] }],
  often: 'any',
  session: { kind: 'none' },
  opens: null,
  ends: null,
};
type Change = { rule?: Rule; together?: number[] };

function sentence(
  rule: Partial<Rule> = {},
  more: Partial<CheckpointView> = {},
  right: Right = 'editor',
) {
  answering({
    viewByOneself: () => ({ document: nobodyByOneself, version: 0, column: null, sample: null }),
    listLists: () => ({ lists: [] }),
    columnSessions: ({ query }) => ({ values: query.column === 'c2' ? ['Early', 'Late'] : [] }),
  });
  const changed = vi.fn<(change: Change) => void>();
  /** Like the page: a change is shown at once. */
  function Held() {
    const [now, setNow] = useState<Rule>({ ...plain, ...rule });
    const view: CheckpointView = {
      id: 2,
      name: 'North gate',
      version: 1,
      rule: now,
      lists: [volunteers],
      others: [],
      devices: [],
      ...more,
    };
    return (
      <RuleSentence
        view={view}
        session={sessionAt(now.session, Date.now())}
        sessions={now.session.kind === 'hand' ? now.session.names : ['Early', 'Late']}
        change={(change) => {
          if (change.rule) setNow(ruleSchema.parse(change.rule));
          changed(change);
        }}
      />
    );
  }
  const { container } = show(<Held />, right);
  return { changed, text: () => container.textContent };
}
const open = async (label: string) => userEvent.click(await screen.findByTitle(label));
const press = async (name: string | RegExp) =>
  userEvent.click(await screen.findByRole('button', { name }));
const use = () => screen.getByRole('button', { name: 'Apply' });
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

test('a checkpoint is read as a sentence', () => {
  const { text } = sentence({
    often: 'each-session',
    takes: [
      {
        list: 4,
        stamps: ['s2'],
        genuine: true,
        holds: [{ column: 'c2', is: 'session', value: '' }],
        shows: ['c2'],
      },
    ],
    session: { kind: 'hand', names: ['Day 1', 'Day 2'], now: 'Day 2' },
    opens: '2027-05-01T08:00:00.000Z',
  });
  expect(text()).toContain(
    'A code of Volunteers, Locker may come in once each session, if its code is genuine and its Shift is the session’s, from Sat 1 May, 08:00 on, with sessions: 2 by name.',
  );
  expect(text()).toContain('Session now: Day 2.');
  expect(text()).toContain('counts this checkpoint only');
});

test('what is gone from its list is said so, and not dropped', () => {
  expect(
    sentence({
      takes: [
        {
          list: 4,
          stamps: [],
          genuine: false,
          holds: [{ column: 'c9', is: 'filled', value: '' }],
          shows: ['c8'],
        },
      ],
      session: { kind: 'column', column: 'c7', now: 'Early' },
    }).text(),
  ).toMatch(
    /its a deleted column is not blank, with sessions: those in a deleted column.*shows the title and a deleted column/,
  );
});

test('a list that is gone is said, and can be left away where there is another', async () => {
  const gone = { list: 99, stamps: [], genuine: false, holds: [], shows: [] };
  const { changed, text } = sentence({ takes: [...plain.takes, gone] });
  expect(text()).toContain('One of its lists was deleted');
  await press('Remove');
  expect(changed.mock.lastCall![0].rule!.takes.map((take) => take.list)).toEqual([4]);
  cleanup();
  sentence({ takes: [gone] });
  expect(screen.queryByRole('button', { name: 'Remove' })).toBeNull();
});

describe('conditions', () => {
  test('one is added, changed to need no value, and taken away', async () => {
    const { changed, text } = sentence();
    await open('Add another condition');
    await userEvent.click(await screen.findByRole('option', { name: 'Shift' }));
    expect(use().hasAttribute('disabled')).toBe(true);
    await userEvent.type(screen.getByLabelText('Value'), 'Late');
    await userEvent.click(use());
    expect(text()).toContain('and its Shift is Late.');
    await open('A condition');
    await press('is not blank');
    await userEvent.click(use());
    expect(changed.mock.lastCall![0].rule!.takes[0]!.holds).toEqual([
      { column: 'c2', is: 'filled', value: '' },
    ]);
    await open('A condition');
    await press('Remove');
    expect(changed.mock.lastCall![0].rule!.takes[0]!.holds).toEqual([]);
  });

  test('that it is the session’s is offered where there are sessions only', async () => {
    const holds = [{ column: 'c2', is: 'is' as const, value: 'Late' }];
    sentence({ takes: [{ ...plain.takes[0]!, holds }] });
    await open('A condition');
    expect(screen.queryByRole('button', { name: /the session’s/ })).toBeNull();
    cleanup();
    sentence({
      takes: [{ ...plain.takes[0]!, holds }],
      session: { kind: 'hand', names: ['Late'], now: 'Late' },
    });
    await open('A condition');
    expect(await screen.findByRole('button', { name: /the session’s/ })).toBeTruthy();
  });
});

test('secrets are offered neither to be shown nor as sessions', async () => {
  sentence();
  await open('What is shown');
  expect(await screen.findByRole('checkbox', { name: 'Shift' })).toBeTruthy();
  expect(screen.queryByRole('checkbox', { name: 'Word' })).toBeNull();
  await userEvent.keyboard('{Escape}');
  await open('Sessions');
  await press('taken from a column');
  expect(await screen.findByRole('option', { name: 'Shift' })).toBeTruthy();
  expect(screen.queryByRole('option', { name: 'Word' })).toBeNull();
});

test('codes of some stamps only: all of them is said by none', async () => {
  const { changed } = sentence();
  await open('Which codes');
  await userEvent.click(await screen.findByRole('checkbox', { name: 'Locker, with a proof' }));
  await userEvent.click(use());
  expect(changed.mock.lastCall![0].rule!.takes[0]!.stamps).toEqual(['s2']);
  await open('Which codes');
  await userEvent.click(await screen.findByRole('checkbox', { name: /all stamps/ }));
  await userEvent.click(use());
  expect(changed.mock.lastCall![0].rule!.takes[0]!.stamps).toEqual([]);
});

describe('times', () => {
  test('a year that is being typed leaves the field as it is typed', async () => {
    const { changed } = sentence({ opens: '2027-05-01T08:00:00.000Z' });
    await open('From when until when');
    const from = await screen.findByLabelText<HTMLInputElement>('From (leave blank for always)');
    const rest = from.value.slice(4);
    for (const year of ['0002', '0020', '0202', '2028']) {
      fireEvent.change(from, { target: { value: year + rest } });
      expect(from.value).toBe(year + rest);
    }
    await userEvent.click(use());
    expect(changed.mock.lastCall![0].rule!.opens).toBe('2028-05-01T08:00:00.000Z');
  });

  test('what would end before it begins is told, and blank is always', async () => {
    const { changed, text } = sentence({
      opens: '2027-05-02T08:00:00.000Z',
      ends: '2027-05-02T20:00:00.000Z',
    });
    await open('From when until when');
    const until = await screen.findByLabelText<HTMLInputElement>('Until (leave blank for no end)');
    fireEvent.change(until, { target: { value: '2027-05-01T10:00' } });
    expect(screen.getByText(/would end before it begins/)).toBeTruthy();
    expect(use().hasAttribute('disabled')).toBe(true);
    fireEvent.change(until, { target: { value: '' } });
    fireEvent.change(screen.getByLabelText('From (leave blank for always)'), {
      target: { value: '' },
    });
    await userEvent.click(use());
    expect(changed.mock.lastCall![0].rule).toMatchObject({ opens: null, ends: null });
    expect(text()).toContain('at any time');
  });
});

describe('sessions', () => {
  test('named by hand: one to a line, the first is on; a name that comes twice is told', async () => {
    const { changed, text } = sentence();
    await open('Sessions');
    await press('switched by hand');
    const names = await screen.findByLabelText('Session names, one per line');
    expect(use().hasAttribute('disabled')).toBe(true);
    fireEvent.change(names, { target: { value: ' Day 1 \n\nDay 2\nDay 1' } });
    expect(screen.getByText(/Day 1 is there twice/)).toBeTruthy();
    expect(use().hasAttribute('disabled')).toBe(true);
    fireEvent.change(names, { target: { value: ' Day 1 \n\nDay 2\n' } });
    await userEvent.click(use());
    expect(changed.mock.lastCall![0].rule!.session).toEqual({
      kind: 'hand',
      names: ['Day 1', 'Day 2'],
      now: 'Day 1',
    });
    expect(text()).toContain('2 by name');
    // the one that is on stays on while others are added
    await userEvent.click(screen.getByTitle('Current session'));
    await userEvent.click(await screen.findByRole('option', { name: 'Day 2' }));
    await open('Sessions');
    fireEvent.change(await screen.findByLabelText('Session names, one per line'), {
      target: { value: 'Day 0\nDay 1\nDay 2' },
    });
    await userEvent.click(use());
    expect(changed.mock.lastCall![0].rule!.session).toMatchObject({ now: 'Day 2' });
  });

  test('what stands in a column: its first value is on, and nothing there is no session', async () => {
    const { changed } = sentence();
    await open('Sessions');
    await press('taken from a column');
    await userEvent.click(await screen.findByRole('option', { name: 'Name' }));
    expect(await screen.findByText('This column is empty.')).toBeTruthy();
    expect(use().hasAttribute('disabled')).toBe(true);
    await userEvent.click(screen.getByRole('option', { name: 'Shift' }));
    expect(await screen.findByText('Early and Late')).toBeTruthy();
    await userEvent.click(use());
    expect(changed.mock.lastCall![0].rule!.session).toEqual({
      kind: 'column',
      column: 'c2',
      now: 'Early',
    });
  });

  test('by the clock: one that would end before it begins is told by its name', async () => {
    const { changed } = sentence();
    await open('Sessions');
    await press('switched by the clock');
    await userEvent.type(screen.getByLabelText('Session'), 'Morning');
    fireEvent.change(screen.getByLabelText('From'), { target: { value: '2027-05-01T12:00' } });
    expect(use().hasAttribute('disabled')).toBe(true);
    fireEvent.change(screen.getByLabelText('Until'), { target: { value: '2027-05-01T08:00' } });
    expect(screen.getByText(/Morning would end before it begins/)).toBeTruthy();
    expect(use().hasAttribute('disabled')).toBe(true);
    fireEvent.change(screen.getByLabelText('Until'), { target: { value: '2027-05-01T13:00' } });
    await press('Another session');
    // the next begins where the one before ends
    expect(screen.getAllByLabelText<HTMLInputElement>('From')[1]!.value).toBe('2027-05-01T13:00');
    expect(use().hasAttribute('disabled')).toBe(true);
    await userEvent.click(screen.getAllByRole('button', { name: 'Remove' })[1]!);
    await userEvent.click(use());
    const { session } = changed.mock.lastCall![0].rule!;
    expect(session).toMatchObject({ kind: 'time', spans: [{ name: 'Morning' }] });
  });
});

test('checkpoints count together as they are ticked', async () => {
  const { changed } = sentence(
    {},
    {
      others: [
        { id: 5, name: 'South gate', together: true },
        { id: 6, name: 'Shed', together: false },
      ],
    },
  );
  await open('Count together with other checkpoints');
  await userEvent.click(await screen.findByRole('checkbox', { name: 'Shed' }));
  await userEvent.click(screen.getByRole('checkbox', { name: 'South gate' }));
  await userEvent.click(use());
  expect(changed).toHaveBeenLastCalledWith({ together: [6] });
});

test('whoever only looks reads the same sentence and changes nothing', async () => {
  const { text } = sentence({}, {}, 'viewer');
  await waitFor(() => expect(text()).toContain('off'));
  expect(text()).toContain('A code of Volunteers may come in any number of times');
  expect(screen.queryByRole('button')).toBeNull();
});

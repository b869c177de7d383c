import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { ByOneselfView, CheckpointView } from '../../../src/contract';
import { nobodyByOneself, type Question } from '../../../src/core/checkpoint/by-oneself';
import { useSelfCheckIn } from '../../../src/ui/features/checkpoint/by-oneself-part';
import { answering, Refused, type Asked } from '../../helpers/answers';
import { show } from '../../helpers/page';

const view: CheckpointView = {
  id: 2,
  name: 'North gate',
  version: 7,
  rule: {
    takes: [{ list: 4, stamps: [], genuine: false, holds: [], shows: [] }],
    often: 'once',
    session: { kind: 'none' },
    opens: null,
    ends: null,
  },
  lists: [
    {
      id: 4,
      name: 'Volunteers',
      columns: [
        { id: 'c1', name: 'Name', role: 'name' },
        { id: 'c2', name: 'Shift', role: 'text' },
        { id: 'c3', name: 'Word', role: 'text', secret: true },
      ],
      stamps: [],
    },
  ],
  others: [],
  devices: [],
};
const question = (n: number, more: Partial<Question> = {}): Question => ({
  id: `q${n}`,
  kind: 'text',
  ask: `Question ${n}?`,
  choices: [],
  needed: false,
  only: null,
  column: null,
  ...more,
});
let now: ByOneselfView;
beforeEach(
  () => void (now = { document: nobodyByOneself, version: 7, column: null, sample: null }),
);
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});
function part(more: Parameters<typeof answering>[0] = {}) {
  const asked = answering({
    viewByOneself: () => now,
    changeByOneself: ({ body }) => {
      now = { ...now, document: (body as { document: ByOneselfView['document'] }).document };
      return now;
    },
    ...more,
  });
  const { container } = show(<SelfCheckIn />, 'editor');
  return { asked, text: () => container.textContent };
}
const open = async () => {
  // the current state has to be loaded first
  await waitFor(() => expect(document.body.textContent).toContain('self check-in'));
  await userEvent.click(screen.getByTitle('Self check-in'));
  return within(await screen.findByRole('dialog'));
};
const sent = (asked: Asked[]) =>
  asked
    .filter((one) => one.route === 'changeByOneself')
    .map((one) => (one.body as { document: ByOneselfView['document'] }).document);
const press = (name: string) => userEvent.click(screen.getByRole('button', { name }));

function SelfCheckIn() {
  return <p>{useSelfCheckIn(view).part}</p>;
}

test('whether people self check-in, and with how many questions, is read', async () => {
  now = { ...now, document: { ...nobodyByOneself, open: true, questions: [question(1)] } };
  const { text } = part();
  await waitFor(() => expect(text()).toBe('self check-in on, with 1 question'));
});

test('their pages are opened with what is asked, each question a number of its own', async () => {
  const { asked, text } = part();
  const dialog = await open();
  expect(text()).toContain('off');
  await press('Add question');
  const letIn = screen.getByRole('button', { name: 'Turn on self check-in' });
  // a question without words asks nothing
  expect(letIn.hasAttribute('disabled')).toBe(true);
  fireEvent.change(dialog.getByLabelText('Question'), { target: { value: 'What to eat?' } });
  await press('one choice');
  fireEvent.change(dialog.getByLabelText('Choices, one per line'), {
    target: { value: ' soup \n\nbread\n' },
  });
  await userEvent.click(dialog.getByRole('checkbox', { name: 'required' }));
  await press('Add question');
  fireEvent.change(dialog.getAllByLabelText('Question')[1]!, {
    target: { value: 'How many?' },
  });
  await userEvent.click(letIn);
  await waitFor(() => expect(sent(asked)).toHaveLength(1));
  expect(asked.at(-1)!.params).toEqual({ id: '2' });
  expect(sent(asked)[0]).toEqual({
    ...nobodyByOneself,
    open: true,
    questions: [
      question(1, {
        kind: 'choice',
        ask: 'What to eat?',
        choices: ['soup', 'bread'],
        needed: true,
      }),
      question(2, { ask: 'How many?' }),
    ],
  });
});

test('a question that is taken away takes its number along; the others keep theirs', async () => {
  now = {
    ...now,
    document: { ...nobodyByOneself, open: true, questions: [1, 2, 3].map((n) => question(n)) },
  };
  const { asked } = part();
  const dialog = await open();
  await userEvent.click(dialog.getAllByRole('button', { name: 'Delete question' })[1]!);
  await press('Apply');
  await waitFor(() => expect(sent(asked)).toHaveLength(1));
  expect(sent(asked)[0]!.questions.map((q) => q.id)).toEqual(['q1', 'q3']);
});

test('a question of some only is asked of whom a column says, and secrets say nothing', async () => {
  now = { ...now, document: { ...nobodyByOneself, questions: [question(1)] } };
  const { asked } = part();
  const dialog = await open();
  const whom = dialog.getByRole<HTMLSelectElement>('combobox');
  expect([...whom.options].map((o) => o.textContent)).toEqual([
    'everyone',
    'people whose Name is',
    'people whose Shift is',
  ]);
  fireEvent.change(whom, { target: { value: 'c2' } });
  fireEvent.change(dialog.getByLabelText('Value'), { target: { value: 'Late' } });
  await press('Turn on self check-in');
  await waitFor(() => expect(sent(asked)).toHaveLength(1));
  expect(sent(asked)[0]!.questions[0]!.only).toEqual({ column: 'c2', is: 'Late' });
});

test('a tick is never needed: not to tick it is an answer', async () => {
  now = { ...now, document: { ...nobodyByOneself, questions: [question(1)] } };
  part();
  const dialog = await open();
  expect(dialog.getByRole('checkbox', { name: 'required' })).toBeTruthy();
  await press('yes or no');
  expect(dialog.queryByRole('checkbox', { name: 'required' })).toBeNull();
});

test('the pages are closed with their questions kept', async () => {
  now = {
    document: { ...nobodyByOneself, open: true, questions: [question(1)] },
    version: 7,
    column: 'Own page',
    sample: '/r/made-up',
  };
  const { asked } = part();
  const dialog = await open();
  expect(dialog.getByText(/are in the column Own page/)).toBeTruthy();
  expect(
    dialog.getByRole('link', { name: 'Open the first person’s page' }).getAttribute('href'),
  ).toBe('/r/made-up');
  await press('Stop self check-in');
  await waitFor(() => expect(sent(asked)).toHaveLength(1));
  expect(sent(asked)[0]).toMatchObject({ open: false, questions: [{ id: 'q1' }] });
});

test('what somebody else changed meanwhile is told, and nothing that was typed goes', async () => {
  const { asked } = part({
    changeByOneself: () => new Refused(409, 'This checkpoint was changed in another window.'),
  });
  const dialog = await open();
  fireEvent.change(dialog.getByLabelText('Text above the questions'), {
    target: { value: 'Welcome to the bay.' },
  });
  await press('Turn on self check-in');
  expect((await dialog.findByRole('alert')).textContent).toContain('in another window');
  expect(dialog.getByLabelText<HTMLInputElement>('Text above the questions').value).toBe(
    'Welcome to the bay.',
  );
  expect(
    asked
      .filter((one) => one.route === 'changeByOneself')
      .map((one) => (one.body as { version: number }).version),
  ).toEqual([7]);
});

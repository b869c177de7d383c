import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { afterEach, expect, test, vi } from 'vitest';
import { stepDefinitions, stepOf, type WorkedStep } from '../../../src/core/records/steps';
import { StepEditor } from '../../../src/ui/editors/worked/steps';

/** The editor of a step as it stands in the sentence: what is said in it stays. */
function Held({ start, said }: { start: WorkedStep; said: (step: WorkedStep) => void }) {
  const [step, setStep] = useState(start);
  return <StepEditor step={step} onChange={(next) => (setStep(next), said(next))} />;
}
const editor = (start: WorkedStep) => {
  const said = vi.fn<(step: WorkedStep) => void>();
  render(<Held start={start} said={said} />);
  return said;
};
afterEach(cleanup);

test.each(stepDefinitions.filter((step) => !step.reads))(
  'the editor of $name shows what the step says, or what it does',
  ({ start, fields, about }) => {
    editor(start);
    if (fields.length === 0) expect(screen.getByText(about)).toBeTruthy();
    for (const field of fields)
      if ('label' in field) expect(screen.getAllByText(field.label).length).toBeGreaterThan(0);
  },
);

test('of what is typed as the sign to fill with, the last one counts; none is not taken', async () => {
  const said = editor(stepOf({ kind: 'fill' }).start);
  await userEvent.type(screen.getByLabelText('Fill with'), '#');
  expect(said).toHaveBeenLastCalledWith({ kind: 'fill', to: 4, with: '#', at: 'front' });
  said.mockClear();
  await userEvent.clear(screen.getByLabelText('Fill with'));
  expect(said).not.toHaveBeenCalled();
});

test('a text may be replaced by nothing, but nothing by no text', async () => {
  const said = editor({ kind: 'replace', find: '-', by: '.' });
  await userEvent.clear(screen.getByLabelText('becomes'));
  expect(said).toHaveBeenLastCalledWith({ kind: 'replace', find: '-', by: '' });
  said.mockClear();
  await userEvent.clear(screen.getByLabelText('This text'));
  expect(said).not.toHaveBeenCalled();
});

'use client';

import { Fragment, type ReactNode } from 'react';
import { styled } from 'styled-components';
import { sends, type Order, type OrderStep } from '../../../core/orders/order';
import { saysCondition, saysStep, saysWhen } from '../../../core/orders/says';
import { ChoicePart, Measure, Part, Small } from '../../kit/controls';
import { ConditionEditor } from './condition-editor';
import { StepEditor } from './step-editor';
import type { Held } from './use-order';
import { WhenEditor } from './when-editor';
import { sentence as wording } from './words';
import { withParts } from '../../kit/with-parts';

const Lines = styled.div`
  font-size: 16px;
  line-height: 1.82;
  .minor {
    font-size: 13px;
    line-height: 1.5;
    margin-top: 8px;
  }
`;

/** An order read aloud, a line for each part; a part opens the small editor that changes it. */
export function OrderSentence({ held }: { held: Held }) {
  const { document } = held.view;
  const { when, conditions, steps } = document;
  const say = (next: Partial<Order>) => held.say({ ...document, ...next });
  const sayConditions = (list: Order['conditions']['list']) =>
    say({ conditions: { ...conditions, list } });
  const asks = steps.some(sends);
  const more = (
    <Add>
      <Part
        acts
        plain
        label={wording.addACondition}
        editor={(close) => (
          <ConditionEditor
            held={held}
            onUse={(next) => (sayConditions([...conditions.list, next]), close())}
          />
        )}
      >
        {wording.onlyIf}
      </Part>
    </Add>
  );
  return (
    <Lines role="group" aria-label={wording.theOrder}>
      <Line>
        {withParts(
          wording.when,
          <Part
            label={wording.whatItStartsFrom}
            editor={(close) => (
              <WhenEditor held={held} onUse={(next) => (say({ when: next }), close())} />
            )}
          >
            {saysWhen(when, held.names)}
          </Part>,
          conditions.list.length > 0 ? ',' : steps.length > 0 ? ':' : '',
          conditions.list.length === 0 && more,
        )}
      </Line>
      {conditions.list.map((condition, i) => (
        <Line key={i}>
          {i === 1 ? (
            <ChoicePart
              label={wording.allOfTheseOr}
              value={conditions.all ? 'all' : 'any'}
              onChange={(id) => say({ conditions: { ...conditions, all: id === 'all' } })}
              choices={[
                { id: 'all', name: 'and', about: wording.allOfTheseMust },
                { id: 'any', name: 'or', about: wording.oneOfTheseIs },
              ]}
            />
          ) : i === 0 || conditions.all ? (
            'and'
          ) : (
            'or'
          )}{' '}
          <Part
            label={wording.editCondition}
            editor={(close) => (
              <ConditionEditor
                held={held}
                condition={condition}
                onUse={(next) => (
                  sayConditions(conditions.list.map((c, k) => (k === i ? next : c))),
                  close()
                )}
                onLeave={() => (sayConditions(conditions.list.filter((_, k) => k !== i)), close())}
              />
            )}
          >
            {saysCondition(condition, held.names)}
          </Part>
          {i < conditions.list.length - 1 ? ',' : ':'}
          {i === conditions.list.length - 1 && more}
        </Line>
      ))}
      {steps.map((step, i) => (
        <Line key={step.id}>
          {i > 0 && wording.then}
          <Part
            label={wording.editStep}
            editor={(close) => (
              <StepEditor
                held={held}
                at={i}
                onUse={(next) => (
                  say({ steps: steps.map((s, k) => (k === i ? next : s)) }),
                  close()
                )}
                onLeave={() => (say({ steps: steps.filter((_, k) => k !== i) }), close())}
                onMove={(by) => (say({ steps: moved(steps, i, by) }), close())}
              />
            )}
          >
            {saysStep(step, held.names)}
          </Part>
          {i < steps.length - 1 ? ',' : '.'}
        </Line>
      ))}
      <Add>
        <Part
          acts
          plain
          label={wording.addAStep}
          editor={(close) => (
            <StepEditor
              held={held}
              at={steps.length}
              onUse={(next) => (say({ steps: [...steps, next] }), close())}
            />
          )}
        >
          {steps.length === 0 ? wording.do : wording.then2}
        </Part>
      </Add>
      <Small className="minor">
        {asks &&
          withParts(
            wording.sending2,
            <ChoicePart
              label={wording.sending}
              value={document.ask ? 'ask' : 'sends'}
              onChange={(id) => say({ ask: id === 'ask' })}
              choices={[
                { id: 'sends', name: 'automatic' },
                {
                  id: 'ask',
                  name: wording.afterApproval,
                  about: wording.itIsMadeAnd,
                },
              ]}
            />,
          )}
        {when.kind !== 'hand' &&
          withParts(
            wording.safetyStopItTurns,
            <Part
              label={wording.safetyStop}
              editor={
                <Measure
                  label={wording.startsPerHour}
                  value={document.most}
                  min={1}
                  max={20_000}
                  step={1}
                  digits={0}
                  onChange={(most) => most !== document.most && say({ most: Math.round(most) })}
                />
              }
            >
              {withParts(wording.starts, document.most.toLocaleString('en'))}
            </Part>,
          )}
      </Small>
    </Lines>
  );
}

const Line = ({ children }: { children: ReactNode }) => <div>{children}</div>;
const Add = ({ children }: { children: ReactNode }) => (
  <Fragment>
    {' '}
    <span style={{ fontSize: 13.5 }}>{children}</span>
  </Fragment>
);

function moved(steps: readonly OrderStep[], at: number, by: -1 | 1): OrderStep[] {
  const next = [...steps];
  const [step] = next.splice(at, 1);
  next.splice(at + by, 0, step!);
  return next;
}

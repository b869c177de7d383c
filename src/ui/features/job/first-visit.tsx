'use client';

import { useSyncExternalStore } from 'react';
import { styled } from 'styled-components';
import { PlainButton } from '../../kit/controls';
import { Link } from '../../kit/link';
import { remembered } from '../../kit/remembered';
import { colour } from '../../kit/theme';
import { useJob, type Band } from '../../shell/ledger/context';
import { firstVisit as wording } from './words';

const name = 'hand-stamp first visit';
const listeners = new Set<() => void>();
const isSeen = (): boolean => remembered.get(name) === 'seen';

const Line = styled.div`
  display: flex;
  gap: 20px;
  align-items: center;
  padding: 7px 20px;
  background: ${colour.violetWash};
  border-bottom: 1px solid ${colour.ruleStrong};
  font-size: 13.5px;
  p {
    flex: 1;
  }
`;

const nextSteps: Record<Band, string> = {
  records: wording.nextSayInStamps,
  stamps: wording.nextLayOutThe,
  piece: wording.nextMakeTheFiles,
  run: wording.nextChooseMakeAnd,
};

/** On a first visit: the parts of a job and the next step. One press hides it for good. */
export function FirstVisit() {
  const { band } = useJob();
  const seen = useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    isSeen,
    () => true,
  );
  if (seen) return null;
  return (
    <Line>
      <p>
        <b>{wording.aJobHasFour}</b> {nextSteps[band]}
      </p>
      <Link href="/help/first-badges">{wording.readTheGuide}</Link>
      <PlainButton
        looks
        onPress={() => {
          remembered.set(name, 'seen');
          for (const listener of listeners) listener();
        }}
      >
        {wording.hideThis}
      </PlainButton>
    </Line>
  );
}

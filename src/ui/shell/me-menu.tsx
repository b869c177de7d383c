'use client';

import { Link } from '../kit/link';
import { useState } from 'react';
import { styled } from 'styled-components';
import type { Me } from '../../contract';
import { includes, rightWords } from '../../core/access/rights';
import { ask } from '../kit/api';
import { ErrorLine, Part, QuietButton, Small } from '../kit/controls';
import { colour } from '../kit/theme';
import { meMenu as wording } from './words';
import { filled, withParts } from '../kit/with-parts';

const Menu = styled.div`
  display: grid;
  gap: 10px;
  min-width: 250px;
  a {
    color: ${colour.violetDeep};
    text-decoration: underline;
  }
  .people {
    border-top: 1px solid ${colour.rule};
    padding-top: 10px;
    display: grid;
    gap: 6px;
  }
  .people > div {
    display: flex;
    gap: 9px;
    align-items: center;
  }
`;

/** The account menu at the top right: role, sign-in, sign out. */
export function MeMenu({ me: { person, standIns } }: { me: Me }) {
  const [problem, setProblem] = useState<string>();
  // what is shown depends on the person, so everything is loaded again
  const go = (work: Promise<unknown>, to: string) =>
    void work.then(
      () => location.assign(to),
      (error: unknown) => setProblem(error instanceof Error ? error.message : String(error)),
    );
  const words = rightWords[person.right];
  return (
    <Part
      plain
      looks
      label={filled(wording.yourAccount, person.name)}
      editor={(close) => (
        <Menu>
          <div>
            <b>{person.name}</b>, {words.role}
            <Small>{words.about}</Small>
          </div>
          <Link href="/me" onClick={close}>
            {wording.yourSignIn}
          </Link>
          {includes(person.right, 'administrator') && (
            <>
              <Link href="/people" onClick={close}>
                {wording.people}
              </Link>
              <Link href="/journal" onClick={close}>
                {wording.journal}
              </Link>
              <Link href="/programs" onClick={close}>
                {wording.programsAndAPIKeys}
              </Link>
            </>
          )}
          {standIns.length > 0 && (
            <div className="people">
              <Small>{wording.inThisDemoYou}</Small>
              {standIns
                .filter((other) => other.id !== person.id)
                .map((other) => (
                  <div key={other.id}>
                    <QuietButton
                      looks
                      onPress={() => go(ask('becomeStandIn', { body: { person: other.id } }), '/')}
                    >
                      {withParts(wording.be, other.name)}
                    </QuietButton>
                    <Small>{rightWords[other.right].role}</Small>
                  </div>
                ))}
            </div>
          )}
          {problem && <ErrorLine>{problem}</ErrorLine>}
          <div>
            <QuietButton looks onPress={() => go(ask('signOut'), '/sign-in')}>
              {wording.signOut}
            </QuietButton>
          </div>
        </Menu>
      )}
    >
      {person.name}
    </Part>
  );
}

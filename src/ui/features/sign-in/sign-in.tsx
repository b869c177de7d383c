'use client';

import { startAuthentication } from '@simplewebauthn/browser';
import { Link } from '../../kit/link';
import { useState } from 'react';
import { styled } from 'styled-components';
import type { PersonView } from '../../../contract';
import { rightWords } from '../../../core/access/rights';
import { ask } from '../../kit/api';
import { ErrorLine, MainButton, PlainButton, QuietButton, Small, Words } from '../../kit/controls';
import { colour } from '../../kit/theme';
import { Door, goOn, useAtTheDoor } from './door';
import { signIn as wording } from './words';

const People = styled.div`
  display: grid;
  border-top: 1px solid ${colour.rule};
  padding-top: 14px;
  gap: 8px;
  div {
    display: flex;
    align-items: center;
    gap: 10px;
  }
`;

/**
 * Signing in: by email address and password, then a second factor if there is one; or by a passkey.
 */
export function SignIn({ standIns }: { standIns: readonly PersonView[] }) {
  const [second, setSecond] = useState(false);
  return second ? <Second /> : <First standIns={standIns} onSecond={() => setSecond(true)} />;
}

function First({ standIns, onSecond }: { standIns: readonly PersonView[]; onSecond: () => void }) {
  const { problem, busy, act } = useAtTheDoor();
  const [email, setEmail] = useState('');
  const [password, setPassword] = useState('');
  return (
    <Door title={wording.signIn}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          act(async () => {
            const { next } = await ask('signIn', { body: { email, password } });
            if (next === 'second') onSecond();
            else goOn();
          });
        }}
      >
        <Words
          label={wording.emailAddress}
          type="email"
          autoComplete="username webauthn"
          value={email}
          onChange={setEmail}
          autoFocus
        />
        <Words
          label={wording.password}
          type="password"
          autoComplete="current-password"
          value={password}
          onChange={setPassword}
        />
        {problem && <ErrorLine role="alert">{problem}</ErrorLine>}
        <div className="row">
          <MainButton type="submit" isDisabled={busy || email === '' || password === ''}>
            {wording.signIn}
          </MainButton>
          <QuietButton
            isDisabled={busy}
            onPress={() =>
              act(async () => {
                const options = await ask('askPasskey');
                const response = await startAuthentication({
                  optionsJSON: options as never,
                }).catch(() => {
                  throw new Error(wording.noPasskeyWasUsed);
                });
                await ask('signInByPasskey', { body: { response: { ...response } } });
                goOn();
              })
            }
          >
            {wording.signInWithA}
          </QuietButton>
        </div>
      </form>
      <Link href="/forgotten">{wording.iForgotMyPassword}</Link>
      {standIns.length > 0 && (
        <People>
          <Small>{wording.inThisDemoYou}</Small>
          {standIns.map((person) => (
            <div key={person.id}>
              <QuietButton
                isDisabled={busy}
                onPress={() =>
                  act(async () => {
                    await ask('becomeStandIn', { body: { person: person.id } });
                    goOn();
                  })
                }
              >
                {person.name}
              </QuietButton>
              <Small>{rightWords[person.right].role}</Small>
            </div>
          ))}
        </People>
      )}
    </Door>
  );
}

function Second() {
  const { problem, busy, act } = useAtTheDoor();
  const [code, setCode] = useState('');
  const [kind, setKind] = useState<'app' | 'spare'>('app');
  return (
    <Door title={wording.enterYourSignIn}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          act(async () => {
            await ask('signInSecond', { body: { code, kind } });
            goOn();
          });
        }}
      >
        <Words
          key={kind}
          label={kind === 'app' ? wording.the6DigitsIn : wording.oneOfYourBackup}
          autoComplete="one-time-code"
          value={code}
          onChange={setCode}
          autoFocus
        />
        {problem && <ErrorLine role="alert">{problem}</ErrorLine>}
        <div className="row">
          <MainButton type="submit" isDisabled={busy || code === ''}>
            {wording.signIn}
          </MainButton>
          <PlainButton onPress={() => (setCode(''), setKind(kind === 'app' ? 'spare' : 'app'))}>
            {kind === 'app' ? wording.useABackupCode : wording.useTheApp}
          </PlainButton>
        </div>
      </form>
    </Door>
  );
}

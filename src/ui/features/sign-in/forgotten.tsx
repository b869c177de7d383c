'use client';

import { Link } from '../../kit/link';
import { useState } from 'react';
import { ask } from '../../kit/api';
import { ErrorLine, MainButton, Words } from '../../kit/controls';
import { Door, useAtTheDoor } from './door';
import { forgotten as wording } from './words';
import { withParts } from '../../kit/with-parts';

/** A forgotten password: a link to set a new one is sent by email. */
export function Forgotten() {
  const { problem, busy, act } = useAtTheDoor();
  const [email, setEmail] = useState('');
  const [sent, setSent] = useState(false);
  if (sent)
    return (
      <Door title={wording.checkYourEmail}>
        <p>{withParts(wording.ifHasAnAccount, <b>{email}</b>)}</p>
        <p>
          {withParts(wording.noEmailAfterA, <Link href="/sign-in">{wording.backToSignIn}</Link>)}
        </p>
      </Door>
    );
  return (
    <Door title={wording.forgotYourPassword}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          act(async () => {
            await ask('forgotten', { body: { email } });
            setSent(true);
          });
        }}
      >
        <Words
          label={wording.yourEmailAddress}
          type="email"
          autoComplete="username"
          value={email}
          onChange={setEmail}
          autoFocus
        />
        {problem && <ErrorLine role="alert">{problem}</ErrorLine>}
        <div className="row">
          <MainButton type="submit" isDisabled={busy || email === ''}>
            {wording.emailMeALink}
          </MainButton>
          <Link href="/sign-in">{wording.backToSignIn}</Link>
        </div>
      </form>
    </Door>
  );
}

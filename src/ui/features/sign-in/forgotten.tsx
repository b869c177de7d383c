'use client';

import { Link } from '../../kit/link';
import { useState } from 'react';
import { ask } from '../../kit/api';
import { ErrorLine, MainButton, Words } from '../../kit/controls';
import { Door, useAtTheDoor } from './door';

/** A forgotten password: a link to set a new one is sent by email. */
export function Forgotten() {
  const { problem, busy, act } = useAtTheDoor();
  const [email, setEmail] = useState('');
  const [sent, setSent] = useState(false);
  if (sent)
    return (
      <Door title="Check your email">
        <p>
          If <b>{email}</b> has an account here, we have sent it an email. Use the link in it to set
          a new password. The link works once, for 2 hours.
        </p>
        <p>
          No email after a few minutes? An administrator can give you a link.{' '}
          <Link href="/sign-in">Back to sign-in</Link>
        </p>
      </Door>
    );
  return (
    <Door title="Forgot your password?">
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
          label="Your email address"
          type="email"
          autoComplete="username"
          value={email}
          onChange={setEmail}
          autoFocus
        />
        {problem && <ErrorLine role="alert">{problem}</ErrorLine>}
        <div className="row">
          <MainButton type="submit" isDisabled={busy || email === ''}>
            Email me a link
          </MainButton>
          <Link href="/sign-in">Back to sign-in</Link>
        </div>
      </form>
    </Door>
  );
}

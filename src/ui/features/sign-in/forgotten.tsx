'use client';

import { Link } from '../../kit/link';
import { useState } from 'react';
import { ask } from '../../kit/api';
import { ErrorLine, MainButton, Words } from '../../kit/controls';
import { Door, useAtTheDoor } from './door';

/** A forgotten password: an address by which it is set anew goes to whoever it belongs to. */
export function Forgotten() {
  const { problem, busy, act } = useAtTheDoor();
  const [email, setEmail] = useState('');
  const [sent, setSent] = useState(false);
  if (sent)
    return (
      <Door title="Look into your mail">
        <p>
          If <b>{email}</b> is one of us, a mail is on its way with an address by which the password
          is set anew. It is good for two hours, once.
        </p>
        <p>
          Nothing comes? Whoever keeps this Hand Stamp can make such an address for you, too.{' '}
          <Link href="/sign-in">Back to signing in</Link>
        </p>
      </Door>
    );
  return (
    <Door title="A forgotten password">
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
          label="Your mail address"
          type="email"
          autoComplete="username"
          value={email}
          onChange={setEmail}
          autoFocus
        />
        {problem && <ErrorLine role="alert">{problem}</ErrorLine>}
        <div className="row">
          <MainButton type="submit" isDisabled={busy || email === ''}>
            Send me an address
          </MainButton>
          <Link href="/sign-in">Back</Link>
        </div>
      </form>
    </Door>
  );
}

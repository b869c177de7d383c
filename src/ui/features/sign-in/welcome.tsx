'use client';

import { useQuery } from '@tanstack/react-query';
import { Link } from '../../kit/link';
import { useState } from 'react';
import { shortestPassword } from '../../../core/access/passwords';
import { ask } from '../../kit/api';
import { ErrorLine, MainButton, Small, Words } from '../../kit/controls';
import { Door, useAtTheDoor } from './door';

const titles = {
  first: 'The first one here',
  invitation: 'Come in',
  reset: 'A new password',
} as const;

/** Coming in by an address that lets one in once. */
export function Welcome({ token }: { token: string }) {
  const shown = useQuery({
    queryKey: ['welcome', token],
    queryFn: () => ask('viewWelcome', { params: { token } }),
    retry: false,
  });
  const { problem, busy, act } = useAtTheDoor();
  const [given, setGiven] = useState<{ name?: string; email?: string }>({});
  const [password, setPassword] = useState('');
  const [done, setDone] = useState(false);
  if (shown.error)
    return (
      <Door title="Nobody comes in here">
        <p role="alert">{shown.error.message}</p>
        <Link href="/sign-in">To signing in</Link>
      </Door>
    );
  if (!shown.data)
    return (
      <Door title="One moment">
        <p>Looking what this address is for …</p>
      </Door>
    );
  const { kind, by } = shown.data;
  const name = given.name ?? shown.data.name;
  const email = given.email ?? shown.data.email;
  if (done)
    return (
      <Door title="The password is set">
        <p>
          All sessions there were are ended. <Link href="/sign-in">Sign in with it</Link>
        </p>
      </Door>
    );
  return (
    <Door title={titles[kind]}>
      {kind === 'first' && (
        <p>
          Nobody uses this Hand Stamp yet. Whoever is first keeps it: settings, people and all else.
        </p>
      )}
      {kind === 'invitation' && (
        <p>
          {by} invites you. You sign in as <b>{email}</b> from now on.
        </p>
      )}
      {kind === 'reset' && (
        <p>
          For <b>{name}</b>, {email}.
        </p>
      )}
      <form
        onSubmit={(e) => {
          e.preventDefault();
          act(async () => {
            await ask('takeWelcome', {
              params: { token },
              body: {
                password,
                ...(kind === 'reset' ? {} : { name }),
                ...(kind === 'first' ? { email } : {}),
              },
            });
            if (kind === 'reset') setDone(true);
            else location.assign('/');
          });
        }}
      >
        {kind !== 'reset' && (
          <Words
            label="What you are called; it stands beside what you do"
            autoComplete="name"
            value={name}
            onChange={(v) => setGiven({ ...given, name: v })}
            autoFocus
          />
        )}
        {kind === 'first' && (
          <Words
            label="Your mail address"
            type="email"
            autoComplete="username"
            value={email}
            onChange={(v) => setGiven({ ...given, email: v })}
          />
        )}
        <Words
          label={`A password of ${shortestPassword} characters or more`}
          type="password"
          autoComplete="new-password"
          value={password}
          onChange={setPassword}
          autoFocus={kind === 'reset'}
        />
        <Small>Three or four words that do not belong together do well.</Small>
        {problem && <ErrorLine role="alert">{problem}</ErrorLine>}
        <div>
          <MainButton type="submit" isDisabled={busy || password === ''}>
            {kind === 'reset' ? 'Set it' : 'Come in'}
          </MainButton>
        </div>
      </form>
    </Door>
  );
}

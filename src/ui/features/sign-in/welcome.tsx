'use client';

import { useQuery } from '@tanstack/react-query';
import { Link } from '../../kit/link';
import { useState } from 'react';
import { shortestPassword } from '../../../core/access/passwords';
import { ask } from '../../kit/api';
import { ErrorLine, MainButton, Small, Words } from '../../kit/controls';
import { Door, useAtTheDoor } from './door';

const titles = {
  first: 'Set up Hand Stamp',
  invitation: 'Accept your invitation',
  reset: 'Set a new password',
} as const;

/** What a link of an invitation, a first start or a new password opens. It works once. */
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
      <Door title="This link does not work">
        <p role="alert">{shown.error.message}</p>
        <Link href="/sign-in">Go to sign-in</Link>
      </Door>
    );
  if (!shown.data)
    return (
      <Door title="One moment">
        <p>Checking your link …</p>
      </Door>
    );
  const { kind, by } = shown.data;
  const name = given.name ?? shown.data.name;
  const email = given.email ?? shown.data.email;
  if (done)
    return (
      <Door title="Your password is changed">
        <p>
          You are signed out everywhere. <Link href="/sign-in">Sign in with your new password</Link>
        </p>
      </Door>
    );
  return (
    <Door title={titles[kind]}>
      {kind === 'first' && (
        <p>
          You are the first person here, so you become the administrator: you manage settings and
          invite others.
        </p>
      )}
      {kind === 'invitation' && (
        <p>
          {by} has invited you. Your account will be <b>{email}</b>.
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
            label="Your name (others see it next to your changes)"
            autoComplete="name"
            value={name}
            onChange={(v) => setGiven({ ...given, name: v })}
            autoFocus
          />
        )}
        {kind === 'first' && (
          <Words
            label="Your email address"
            type="email"
            autoComplete="username"
            value={email}
            onChange={(v) => setGiven({ ...given, email: v })}
          />
        )}
        <Words
          label={`New password, at least ${shortestPassword} characters`}
          type="password"
          autoComplete="new-password"
          value={password}
          onChange={setPassword}
          autoFocus={kind === 'reset'}
        />
        <Small>Three or four words that do not belong together make a good password.</Small>
        {problem && <ErrorLine role="alert">{problem}</ErrorLine>}
        <div>
          <MainButton type="submit" isDisabled={busy || password === ''}>
            {kind === 'reset' ? 'Save password' : 'Create my account'}
          </MainButton>
        </div>
      </form>
    </Door>
  );
}

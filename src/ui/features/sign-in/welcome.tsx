'use client';

import { useQuery } from '@tanstack/react-query';
import { Link } from '../../kit/link';
import { useState } from 'react';
import { shortestPassword } from '../../../core/access/passwords';
import { ask } from '../../kit/api';
import { ErrorLine, MainButton, Small, Words } from '../../kit/controls';
import { Door, useAtTheDoor } from './door';
import { welcome as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const titles = {
  first: wording.setUpHandStamp,
  invitation: wording.acceptYourInvitation,
  reset: wording.setANewPassword,
} as const;

/** The page of an invitation, a first start or a new password. Its link works once. */
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
      <Door title={wording.thisLinkDoesNot}>
        <p role="alert">{shown.error.message}</p>
        <Link href="/sign-in">{wording.goToSignIn}</Link>
      </Door>
    );
  if (!shown.data)
    return (
      <Door title={wording.oneMoment}>
        <p>{wording.checkingYourLink}</p>
      </Door>
    );
  const { kind, by } = shown.data;
  const name = given.name ?? shown.data.name;
  const email = given.email ?? shown.data.email;
  if (done)
    return (
      <Door title={wording.yourPasswordIsChanged}>
        <p>
          {withParts(
            wording.youAreSignedOut,
            <Link href="/sign-in">{wording.signInWithYour}</Link>,
          )}
        </p>
      </Door>
    );
  return (
    <Door title={titles[kind]}>
      {kind === 'first' && <p>{wording.youAreTheFirst}</p>}
      {kind === 'invitation' && <p>{withParts(wording.hasInvitedYouYour, by, <b>{email}</b>)}</p>}
      {kind === 'reset' && <p>{withParts(wording.for, <b>{name}</b>, email)}</p>}
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
            label={wording.yourNameOthersSee}
            autoComplete="name"
            value={name}
            onChange={(v) => setGiven({ ...given, name: v })}
            autoFocus
          />
        )}
        {kind === 'first' && (
          <Words
            label={wording.yourEmailAddress}
            type="email"
            autoComplete="username"
            value={email}
            onChange={(v) => setGiven({ ...given, email: v })}
          />
        )}
        <Words
          label={filled(wording.newPasswordAtLeast, shortestPassword)}
          type="password"
          autoComplete="new-password"
          value={password}
          onChange={setPassword}
          autoFocus={kind === 'reset'}
        />
        <Small>{wording.threeOrFourWords}</Small>
        {problem && <ErrorLine role="alert">{problem}</ErrorLine>}
        <div>
          <MainButton type="submit" isDisabled={busy || password === ''}>
            {kind === 'reset' ? wording.savePassword : wording.createMyAccount}
          </MainButton>
        </div>
      </form>
    </Door>
  );
}

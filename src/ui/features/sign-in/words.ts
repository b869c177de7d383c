/** The texts of this folder, by file. `{1}` is the first part of a text (see kit/with-parts). */

export const forgotten = {
  checkYourEmail: 'Check your email',
  ifHasAnAccount:
    'If {1} has an account here, we have sent it an email. Use the link in it to set a new password. The link works once, for 2 hours.',
  backToSignIn: 'Back to sign-in',
  forgotYourPassword: 'Forgot your password?',
  yourEmailAddress: 'Your email address',
  emailMeALink: 'Email me a link',
  noEmailAfterA: 'No email after a few minutes? An administrator can give you a link. {1}',
} as const;

export const signIn = {
  signIn: 'Sign in',
  emailAddress: 'Email address',
  password: 'Password',
  signInWithA: 'Sign in with a passkey',
  noPasskeyWasUsed: 'No passkey was used. Sign in with your email address and password instead.',
  iForgotMyPassword: 'I forgot my password',
  inThisDemoYou: 'In this demo you can sign in as any of Marram Bay’s made-up people:',
  enterYourSignIn: 'Enter your sign-in code',
  the6DigitsIn: 'The 6 digits in your app',
  oneOfYourBackup: 'One of your backup codes',
  useABackupCode: 'Use a backup code',
  useTheApp: 'Use the app',
} as const;

export const welcome = {
  setUpHandStamp: 'Set up Hand Stamp',
  acceptYourInvitation: 'Accept your invitation',
  setANewPassword: 'Set a new password',
  thisLinkDoesNot: 'This link does not work',
  goToSignIn: 'Go to sign-in',
  oneMoment: 'One moment',
  checkingYourLink: 'Checking your link …',
  yourPasswordIsChanged: 'Your password is changed',
  signInWithYour: 'Sign in with your new password',
  youAreTheFirst:
    'You are the first person here, so you become the administrator: you manage settings and invite others.',
  hasInvitedYouYour: '{1} has invited you. Your account will be {2}.',
  for: 'For {1}, {2}.',
  yourNameOthersSee: 'Your name (others see it next to your changes)',
  yourEmailAddress: 'Your email address',
  newPasswordAtLeast: 'New password, at least {1} characters',
  threeOrFourWords: 'Three or four words that do not belong together make a good password.',
  savePassword: 'Save password',
  createMyAccount: 'Create my account',
  youAreSignedOut: 'You are signed out everywhere. {1}',
} as const;

import { createHash } from 'node:crypto';
import { LRUCache } from 'lru-cache';
import { configuration, database, type Database } from '../platform';
import { longestPassword, shortestPassword } from '../../core/access/passwords';

/** How long a session lasts that is not used, in seconds. */
const sessionSeconds = 14 * 24 * 3600;

/** After how many days one signs in again, however often the session was used. */
export const sessionDays = 60;

/**
 * Keys for different secrets are derived from the installation's one key and do not reveal one
 * another.
 */
export const signInSecret = (): string => {
  const key = configuration().HAND_STAMP_KEY;
  if (!key) throw new Error('HAND_STAMP_KEY is not set, and nobody can sign in without it.');
  return secretFrom(key);
};

/** The keys for signing and encrypting in sign-in, derived from the installation's key. */
export const secretFrom = (key: string): string =>
  createHash('sha256').update(`sign-in:${key}`).digest('hex');

const times = { createdAt: 'created_at', updatedAt: 'updated_at' } as const;

/**
 * The sign-in library under `origin`, such as `https://stamp.example`: passkeys are valid for one
 * name only (WebAuthn Level 3, RP ID).
 */
async function build(db: Database, origin: string) {
  // workers answer no requests, and need not load all of it
  const [{ betterAuth }, { twoFactor }, { passkey }] = await Promise.all([
    import('better-auth'),
    import('better-auth/plugins/two-factor'),
    import('@better-auth/passkey'),
  ]);
  return betterAuth({
    appName: 'Hand Stamp',
    baseURL: origin,
    trustedOrigins: [origin],
    secret: signInSecret(),
    telemetry: { enabled: false },
    logger: { disabled: true },
    database: { db, type: 'postgres' },
    // tries are counted in the database, for all servers and for our own routes: `tries.ts`
    rateLimit: { enabled: false },
    advanced: {
      cookiePrefix: 'hand-stamp',
      useSecureCookies: origin.startsWith('https:'),
      defaultCookieAttributes: { sameSite: 'lax', httpOnly: true },
      // our own gate finds out which person a request comes from
      ipAddress: { disableIpTracking: true },
    },
    emailAndPassword: {
      enabled: true,
      disableSignUp: true,
      minPasswordLength: shortestPassword,
      maxPasswordLength: longestPassword,
    },
    user: {
      modelName: 'people',
      fields: { emailVerified: 'email_verified', ...times },
      additionalFields: {
        right: { type: 'string', input: false, required: true },
        ended: { type: 'boolean', input: false, required: false, defaultValue: false },
        standIn: {
          type: 'boolean',
          input: false,
          required: false,
          defaultValue: false,
          fieldName: 'stand_in',
        },
      },
    },
    session: {
      modelName: 'sessions',
      fields: {
        userId: 'person_id',
        expiresAt: 'expires_at',
        ipAddress: 'ip_address',
        userAgent: 'user_agent',
        ...times,
      },
      expiresIn: sessionSeconds,
      updateAge: 24 * 3600,
    },
    account: {
      modelName: 'sign_ins',
      fields: {
        userId: 'person_id',
        accountId: 'account_id',
        providerId: 'provider_id',
        accessToken: 'access_token',
        refreshToken: 'refresh_token',
        idToken: 'id_token',
        accessTokenExpiresAt: 'access_token_expires_at',
        refreshTokenExpiresAt: 'refresh_token_expires_at',
        ...times,
      },
    },
    verification: { modelName: 'one_time', fields: { expiresAt: 'expires_at', ...times } },
    plugins: [
      twoFactor({
        issuer: 'Hand Stamp',
        twoFactorTable: 'second_factors',
        schema: {
          user: { fields: { twoFactorEnabled: 'two_factor_enabled' } },
          twoFactor: {
            modelName: 'second_factors',
            fields: {
              backupCodes: 'backup_codes',
              userId: 'person_id',
              failedVerificationCount: 'failed_verification_count',
              lockedUntil: 'locked_until',
            },
          },
        },
      }),
      passkey({
        rpID: new URL(origin).hostname,
        rpName: 'Hand Stamp',
        origin,
        schema: {
          passkey: {
            modelName: 'passkeys',
            fields: {
              publicKey: 'public_key',
              userId: 'person_id',
              credentialID: 'credential_id',
              deviceType: 'device_type',
              backedUp: 'backed_up',
              createdAt: 'created_at',
            },
          },
        },
      }),
    ],
  });
}

export type Auth = Awaited<ReturnType<typeof build>>;
/** By database, then by origin and key. */
const built = new WeakMap<Database, LRUCache<string, Promise<Auth>>>();

/** The sign-in library for an origin. */
export function authAt(origin: string, db: Database = database()): Promise<Auth> {
  const ofDatabase = built.get(db) ?? new LRUCache<string, Promise<Auth>>({ max: 20 });
  built.set(db, ofDatabase);
  const key = `${origin} ${signInSecret()}`;
  const known = ofDatabase.get(key);
  if (known) return known;
  const made = build(db, origin);
  ofDatabase.set(key, made);
  // if it could not be made, the next request tries again
  made.catch(() => ofDatabase.delete(key));
  return made;
}

/**
 * The origin of this installation: the one that is set, or the name by which the request reached
 * us.
 */
export function originOf(request: { headers: Headers }): string {
  const set = configuration().HAND_STAMP_URL;
  if (set) return new URL(set).origin;
  const host = request.headers.get('host') ?? 'localhost';
  // a proxy that speaks https for us says so
  const https = request.headers.get('x-forwarded-proto')?.split(',')[0]?.trim() === 'https';
  return `${https ? 'https' : 'http'}://${host.trim().toLowerCase()}`;
}

/** A cookie value as better-auth signs it: HMAC-SHA-256 in base64 after a dot, percent-encoded. */
export async function signed(value: string, secret: string): Promise<string> {
  const bytes = new TextEncoder();
  const key = await crypto.subtle.importKey(
    'raw',
    bytes.encode(secret),
    { name: 'HMAC', hash: 'SHA-256' },
    false,
    ['sign'],
  );
  const mark = Buffer.from(await crypto.subtle.sign('HMAC', key, bytes.encode(value)));
  return encodeURIComponent(`${value}.${mark.toString('base64')}`);
}

/** Whether this installation signed a session cookie, whatever became of that session. */
export async function isOurs(cookie: string): Promise<boolean> {
  const token = decodeURIComponent(cookie).split('.')[0] ?? '';
  return (await signed(token, signInSecret())) === cookie;
}

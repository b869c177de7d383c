/** Logs a page that failed, under the number that its error page shows. */
export async function onRequestError(
  error: unknown,
  request: { path: string; method: string },
  context: { routePath: string },
): Promise<void> {
  if (process.env.NEXT_RUNTIME !== 'nodejs') return;
  const { log } = await import('./server/platform');
  const digest = error instanceof Error && 'digest' in error ? String(error.digest) : undefined;
  // the path as declared: its parameters may be a secret link
  log.error(
    { err: error, request: digest, method: request.method, page: context.routePath },
    'page failed',
  );
}

/** Done once by every web server before it answers; Next.js looks for this file by its name. */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME !== 'nodejs') return;
  const { log, warmDatabase, warmForStrangers } = await import('./server/platform');
  // not waited for: pages are answered meanwhile
  Promise.all([warmDatabase(), warmForStrangers()]).catch((error: unknown) =>
    log.warn({ err: error }, 'the web server could not get ready beforehand'),
  );
}

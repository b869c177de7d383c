import { send } from './api';

/**
 * Sends the bytes of a file or a paste to be read; `list` when a list is read again. Returns the
 * number of the intake.
 */
export async function sendFile(
  body: Blob,
  name: string,
  { list, pasted }: { list?: number; pasted?: boolean } = {},
): Promise<number> {
  const headers: Record<string, string> = pasted ? { 'x-pasted': 'yes' } : {};
  return (await send('startIntake', body, name, { query: { list }, headers })).id;
}

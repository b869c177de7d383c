import { ApiError } from './api';

/** Sends the bytes of a file or a paste to be read; `list` when a list is read again. Returns the number of the intake. */
export async function sendFile(
  body: Blob,
  name: string,
  { list, pasted }: { list?: number; pasted?: boolean } = {},
): Promise<number> {
  const response = await fetch(`/api/intakes${list === undefined ? '' : `?list=${list}`}`, {
    method: 'POST',
    headers: {
      'x-file-name': encodeURIComponent(name),
      'content-type': 'application/octet-stream',
      ...(pasted ? { 'x-pasted': 'yes' } : {}),
    },
    body,
  });
  const data = (await response.json().catch(() => ({}))) as { id?: number; error?: string };
  if (!response.ok || data.id === undefined)
    throw new ApiError(
      data.error ?? `${name} could not be sent. Look whether Hand Stamp is still running.`,
      response.status,
    );
  return data.id;
}

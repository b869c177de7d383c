/** Asks the server; an error carries the server's own words. */
export class ApiError extends Error {
  constructor(
    message: string,
    readonly status: number,
    /** What came with it, such as both values of a cell that was changed twice. */
    readonly details: Readonly<Record<string, unknown>> = {},
  ) {
    super(message);
  }
}

export async function ask<T>(
  path: string,
  options: { method?: string; json?: unknown; signal?: AbortSignal } = {},
): Promise<T> {
  let response: Response;
  const text = options.json === undefined ? undefined : JSON.stringify(options.json);
  try {
    response = await fetch(path, {
      method: options.method ?? (options.json === undefined ? 'GET' : 'POST'),
      headers: options.json === undefined ? undefined : { 'content-type': 'application/json' },
      body: text,
      // a change reaches the server also when the page is left in the same moment; browsers take up to 64 KB so
      keepalive: text !== undefined && text.length < 20_000,
      signal: options.signal,
    });
  } catch (error) {
    if (error instanceof DOMException) throw error;
    throw new ApiError(
      'Hand Stamp does not answer. Look whether it is still running; nothing you see is lost.',
      0,
    );
  }
  const data: unknown = await response.json().catch(() => ({}));
  if (!response.ok)
    throw new ApiError(
      data && typeof data === 'object' && 'error' in data
        ? String(data.error)
        : 'Something went wrong; try it again.',
      response.status,
      data && typeof data === 'object' ? (data as Record<string, unknown>) : {},
    );
  return data as T;
}

/**
 * A path with its parameters and its query. Undefined or empty values are left out of the query.
 */
export function pathTo(open: string, input: { params?: object; query?: object } = {}): string {
  const params = (input.params ?? {}) as Record<string, unknown>;
  const path = open.replace(/\{(\w+)\}/g, (_, name: string) =>
    encodeURIComponent(String(params[name])),
  );
  const query = new URLSearchParams();
  for (const [name, value] of Object.entries(input.query ?? {}))
    if (value !== undefined && value !== '')
      query.set(name, typeof value === 'object' ? JSON.stringify(value) : String(value));
  const text = query.toString();
  return text === '' ? path : `${path}?${text}`;
}

/**
 * One value for the whole process, created on first use. The framework loads the server's code
 * twice, for pages and for routes, and the code ahead of it is a third copy (decision 58): a
 * constant of a module would exist three times. It also survives reloads of the development server.
 */
export function oncePerProcess<T>(name: string, make: () => T): T {
  const kept = ((globalThis as { handStamp?: Map<string, unknown> }).handStamp ??= new Map());
  if (!kept.has(name)) kept.set(name, make());
  return kept.get(name) as T;
}

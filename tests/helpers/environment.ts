/**
 * Files of tests may share a process: each begins with the environment that the first began with,
 * whatever one before it has set.
 */
const kept = globalThis as { environmentOfTests?: NodeJS.ProcessEnv };
const first = (kept.environmentOfTests ??= { ...process.env });
for (const name of Object.keys(process.env)) if (!(name in first)) delete process.env[name];
Object.assign(process.env, first);

export {};

/** The part of the environment that a program needs; nothing of it is secret. */
const harmless =
  /^(PATH|HOME|LANG|LANGUAGE|LC_\w+|TZ|TMPDIR|NODE_ENV|LOG_LEVEL|HAND_STAMP_(PROGRAMS|PROCESS|APART_MB|TASK_MB))$/;

/**
 * The environment of a process that opens files from outside: without the key and the database's
 * address, so that a hostile file finds neither.
 */
export const harmlessEnvironment = (
  environment: NodeJS.ProcessEnv = process.env,
): NodeJS.ProcessEnv =>
  Object.fromEntries(
    Object.entries(environment).filter(([name]) => harmless.test(name)),
  ) as NodeJS.ProcessEnv;

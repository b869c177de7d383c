import { join } from 'node:path';

/** What runs beside the tests in processes of their own. */
type Program = 'src/server/tasks/worker' | 'tests/helpers/one-step';

/**
 * The arguments of Node.js for a program: as `npm test` built it from these very sources, since
 * reading hundreds of files at each start takes many seconds; or the source.
 */
export function argumentsOf(program: Program): string[] {
  const built = process.env.HAND_STAMP_PROGRAMS;
  return built ? [join(built, `${program}.mjs`)] : ['--import', 'tsx', `${program}.ts`];
}

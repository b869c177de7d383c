import { join } from 'node:path';
import { configuration } from './configuration';

/** What runs beside the process that starts it. */
type Program = 'src/server/tasks/child' | 'src/server/tasks/heartbeat';

/**
 * The file of a program of ours and the arguments that Node.js needs for it: the built one if the
 * start command set its folder, else the source.
 */
export function programOf(program: Program): { file: string; execArgv: string[] } {
  const built = configuration().HAND_STAMP_PROGRAMS;
  if (built) return { file: join(built, `${program}.mjs`), execArgv: [] };
  // the folder by its name, so that no bundler follows it
  const file = join(/* turbopackIgnore: true */ process.cwd(), `${program}.ts`);
  return { file, execArgv: ['--import', 'tsx'] };
}

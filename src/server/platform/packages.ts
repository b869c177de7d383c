import { existsSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { LRUCache } from 'lru-cache';
import { configuration } from './configuration';

const found = new LRUCache<string, string>({ max: 50 });

/**
 * A file of an npm package, such as a typeface. It is looked for where Node.js would, from the
 * folder of our programs, not from the working directory.
 * @param path with `/`, from the package's folder
 * @throws Error if the package is not installed
 */
export function packageFile(name: string, path: string): string {
  let folder = found.get(name);
  if (!folder) {
    // in development the sources lie in the working directory
    const from = configuration().HAND_STAMP_PROGRAMS ?? process.cwd();
    // the folder by its name, so that no bundler follows it
    const places =
      createRequire(join(/* turbopackIgnore: true */ from, 'program.js')).resolve.paths(name) ?? [];
    folder = places
      .map((place) => join(/* turbopackIgnore: true */ place, name))
      .find((place) => existsSync(/* turbopackIgnore: true */ place));
    if (!folder) throw new Error(`The package ${name} is not installed.`);
    found.set(name, folder);
  }
  return join(/* turbopackIgnore: true */ folder, path);
}

/**
 * A file that is part of Hand Stamp, such as a page of the guide. It is looked for in the folder of
 * the programs and in every folder above.
 *
 * @param path with `/`, from the folder that holds all of Hand Stamp
 * @returns undefined if there is no such file or folder
 */
export function ownFile(path: string): string | undefined {
  let folder = configuration().HAND_STAMP_PROGRAMS || process.cwd();
  for (;;) {
    const file = join(/* turbopackIgnore: true */ folder, path);
    if (existsSync(/* turbopackIgnore: true */ file)) return file;
    const above = dirname(folder);
    if (above === folder) return undefined;
    folder = above;
  }
}

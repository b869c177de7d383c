import { purposeOf } from '../payload/purposes';
import type { Stamp } from '../payload/stamp';
import type { Column } from '../records/columns';
import { isLink, type LinkSource } from '../records/beginnings';
import type { LinkFor } from './code';

/** A column of links that a stamp uses. */
export interface HeldLink {
  column: Column;
  source: LinkSource;
}

/**
 * The column of links that is the whole content of a stamp; undefined if its codes contain the
 * address itself.
 */
export function linkOf(stamp: Stamp, columns: readonly Column[]): HeldLink | undefined {
  if (!purposeOf(stamp.does).byLink || stamp.parts.length !== 1) return undefined;
  const [part] = stamp.parts;
  const column = part!.kind === 'column' ? columns.find((c) => c.id === part!.column) : undefined;
  const source = column?.worked?.source;
  return isLink(source) ? { column: column!, source } : undefined;
}

/** A stamp as it would be with the address itself in its codes. */
export const withoutLink = (stamp: Stamp, { source }: HeldLink): Stamp => ({
  ...stamp,
  parts: source.parts,
  spaces: source.spaces,
});

/**
 * As long as the code of a link, and in its letters: a placeholder for one that is not created yet.
 */
export const sampleCode = (of: LinkFor): string => (of === 'one' ? '7K2M9Q4TX3WRB' : '7K2M9Q4TX');

import type { Stamp } from '../../payload/stamp';

/** Whether the code of a stamp stands in a mail: those that the job's piece bears, or all where it bears none. */
export const isMailCode = (stamp: Pick<Stamp, 'id'>, borne: readonly string[]): boolean =>
  borne.length === 0 || borne.includes(stamp.id);

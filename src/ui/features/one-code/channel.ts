import type { Stamp } from '../../../core/payload/stamp';
import type { Values } from '../../../core/records/columns';

/**
 * The contents of the window with the large code; sent from the One code screen to every window of
 * this browser.
 */
export interface Shown {
  stamp: Stamp;
  values: Values;
  title: string;
}

export type Message = { kind: 'show'; shown: Shown } | { kind: 'ask' };

export const channelName = 'hand-stamp-one-code';

import type { Stamp } from '../../core/payload/stamp';
import type { Values } from '../../core/records/columns';
import type { ImageFormat } from '../../core/run/outputs';

/**
 * What is done in a process of its own, because a hostile or unlucky input can take it long, or all memory, or end it. Each is loaded
 * only where it is done.
 */
export const works = {
  /** A background task, whole, with a database connection of its own. */
  task: async ({ name, payload }: { name: string; payload: unknown }): Promise<void> => {
    const [{ performTask }, { database }] = await Promise.all([import('../tasks/registry'), import('../db')]);
    await performTask(database(), name, payload);
  },
  /** A picture that somebody brought, redrawn as plain pixels. */
  picture: async ({ name, bytes, side }: { name: string; bytes: Uint8Array; side?: number }) => {
    const { keepPicture } = await import('../pictures');
    return keepPicture(name, Buffer.from(bytes), side);
  },
  /** The picture of a code, read back. */
  code: async ({ stamp, values, format }: { stamp: Stamp; values: Values; format: ImageFormat }) => {
    const [{ codeFile }, { provideReader }] = await Promise.all([import('../outputs/codes'), import('../reader')]);
    provideReader();
    const made = await codeFile(stamp, values, format);
    return made && { bytes: made.bytes, reads: made.back.result === 'read' };
  },
} as const;

export type WorkName = keyof typeof works;
export type Input<W extends WorkName> = Parameters<(typeof works)[W]>[0];
export type Output<W extends WorkName> = Awaited<ReturnType<(typeof works)[W]>>;

/** From the pool to its child and back. An error comes as what is needed to make it again. */
export interface Asked {
  work: WorkName;
  input: unknown;
}
export type Told = { ready: true } | { done: unknown } | { failed: { name: string; message: string; status?: number; code?: string } };

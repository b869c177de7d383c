/**
 * The outputs of runs. To add one: a file here, a line in `output.ts`, and its maker in
 * `server/outputs/kinds`, which the compiler asks for.
 */
export type { OutputDescription } from './description';
export * from './output';

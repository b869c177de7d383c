/**
 * What a worked column can begin with, one file for each. Schema, sentence, editor and the value
 * itself follow from the entry here; whoever asks for one kind asks its file.
 */
import * as z from 'zod';
import { join } from './join';
import { link } from './link';
import type { OriginDefinition } from './origin';
import { page } from './page';
import { picture } from './picture';
import { proof } from './proof';
import { secret } from './secret';
import { series } from './series';

export type { AddressKind, OriginContext, OriginQuestion } from './origin';
export { joined, partsJoined } from './join';
export { holdsLinks, isLink, linkTo, type LinkSource } from './link';
export { holdsPages, ownPage } from './page';
export { pictureStamp } from './picture';
export { holdsProofs, withKey } from './proof';
export { holdsUnguessable } from './secret';

const origins = [join, series, secret, link, page, picture, proof] as const;
type SchemasOf<T extends readonly { schema: unknown }[]> = { [I in keyof T]: T[I]['schema'] };

/** Where a worked column begins. */
export const originSchema = z.discriminatedUnion(
  'kind',
  origins.map((origin) => origin.schema) as unknown as SchemasOf<typeof origins>,
);
export type WorkedSource = z.infer<typeof originSchema>;

/** All of them by kind, in the order in which they are offered. */
export const originDefinitions = new Map(
  origins.map((origin) => [
    origin.schema.shape.kind.value,
    origin as unknown as OriginDefinition<WorkedSource>,
  ]),
);

/** Everything about the origin of a kind. */
export const originOf = ({ kind }: Pick<WorkedSource, 'kind'>): OriginDefinition<WorkedSource> =>
  originDefinitions.get(kind)!;

/** Kinds whose values are addresses of ours. */
export const addressKinds: readonly WorkedSource['kind'][] = [...originDefinitions]
  .filter(([, { address }]) => address)
  .map(([kind]) => kind);

/** Whether a column holds addresses of ours: of one record each, on a base that can change. */
export const holdsAddresses = ({ worked }: { worked?: { source: WorkedSource } }): boolean =>
  worked !== undefined && originOf(worked.source).address === true;

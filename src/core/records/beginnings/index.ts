/**
 * The beginnings of worked columns, one file for each. Schema, sentence, editor and value follow
 * from the entry here; code that needs one kind asks its file.
 */
import * as z from 'zod';
import { join } from './join';
import { link } from './link';
import type { BeginningDefinition } from './beginning';
import { page } from './page';
import { picture } from './picture';
import { proof } from './proof';
import { secret } from './secret';
import { series } from './series';

export type { AddressKind, BeginningContext, BeginningQuestion } from './beginning';
export { joined, partsJoined } from './join';
export { holdsLinks, isLink, linkTo, type LinkSource } from './link';
export { holdsPages, ownPage } from './page';
export { pictureStamp } from './picture';
export { holdsProofs, withKey } from './proof';
export { holdsUnguessable } from './secret';

const beginnings = [join, series, secret, link, page, picture, proof] as const;
type SchemasOf<T extends readonly { schema: unknown }[]> = { [I in keyof T]: T[I]['schema'] };

/** How a worked column begins. */
export const beginningSchema = z.discriminatedUnion(
  'kind',
  beginnings.map((beginning) => beginning.schema) as unknown as SchemasOf<typeof beginnings>,
);
export type WorkedSource = z.infer<typeof beginningSchema>;

/** All of them by kind, in the order in which they are offered. */
export const beginningDefinitions = new Map(
  beginnings.map((beginning) => [
    beginning.schema.shape.kind.value,
    beginning as unknown as BeginningDefinition<WorkedSource>,
  ]),
);

/** Everything about the beginning of a kind. */
export const beginningOf = ({
  kind,
}: Pick<WorkedSource, 'kind'>): BeginningDefinition<WorkedSource> =>
  beginningDefinitions.get(kind)!;

/** Kinds whose values are our addresses. */
export const addressKinds: readonly WorkedSource['kind'][] = [...beginningDefinitions]
  .filter(([, { address }]) => address)
  .map(([kind]) => kind);

/** Whether a column holds our addresses: of one record each, on a base that can change. */
export const holdsAddresses = ({ worked }: { worked?: { source: WorkedSource } }): boolean =>
  worked !== undefined && beginningOf(worked.source).address === true;

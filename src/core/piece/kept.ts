import * as z from 'zod';
import type { Column } from '../records/columns';
import type { Part } from '../records/parts';
import { pieceSchema, type Piece, type PieceElement } from './model';

/** A piece saved for other lists: columns are stored by name, stamps by position. */
export const keptPieceSchema = z.object({
  piece: pieceSchema,
  columns: z.record(z.string(), z.object({ name: z.string(), role: z.string() })),
  stamps: z.array(z.string()),
});
export type KeptPiece = z.infer<typeof keptPieceSchema>;

export function keepPiece(
  piece: Piece,
  columns: readonly Column[],
  stamps: readonly { id: string }[],
): KeptPiece {
  return {
    piece,
    columns: Object.fromEntries(columns.map(({ id, name, role }) => [id, { name, role }])),
    stamps: stamps.map((s) => s.id),
  };
}

/** A saved piece for another list. Text and pictures with a missing column are left out. */
export function pieceFor(
  kept: KeptPiece,
  columns: readonly Column[],
  stamps: readonly { id: string }[],
): Piece {
  const columnFor = (id: string): string | undefined => {
    const was = kept.columns[id];
    const byName = columns.find((c) => c.name.toLowerCase() === was?.name.toLowerCase());
    return (
      byName ?? (was && was.role !== 'text' ? columns.find((c) => c.role === was.role) : undefined)
    )?.id;
  };
  const elements = kept.piece.elements.flatMap((element): PieceElement[] => {
    if (element.kind === 'stamp') {
      const stamp = stamps[Math.max(0, kept.stamps.indexOf(element.stamp))] ?? stamps[0];
      return stamp ? [{ ...element, stamp: stamp.id }] : [];
    }
    if (element.kind === 'text') {
      const parts = element.parts.flatMap((part): Part[] => {
        if (part.kind === 'text') return [part];
        const column = columnFor(part.column);
        return column ? [{ ...part, column }] : [];
      });
      return parts.length > 0 ? [{ ...element, parts }] : [];
    }
    if (element.kind === 'picture' && element.column !== undefined) {
      const column = columnFor(element.column);
      return column ? [{ ...element, column }] : [];
    }
    return [element];
  });
  return { ...kept.piece, elements };
}

'use client';
import { useQuery } from '@tanstack/react-query';
import { documentOf, onGround } from '../../../core/grounds';
import { documentGround } from '../../../core/piece/model';
import type { DocumentGround } from '../../../core/piece/ground';
import { ask } from '../../kit/api';
import { useJob } from '../../shell/ledger/context';

/** The document of the job's piece, its contents, and how to change it. */
export function useDocument() {
  const { job, save } = useJob();
  const ground = documentOf(job.document.piece);
  const { data: facts, error } = useQuery({
    queryKey: ['document', ground.document],
    queryFn: () => ask('viewDocument', { params: { id: ground.document } }),
    select: (document) => document.facts,
    staleTime: Infinity,
  });
  const change = (next: (ground: DocumentGround) => DocumentGround) =>
    save((d) => {
      const now = documentGround(d.piece);
      return now ? { ...d, piece: { ...d.piece, ground: next(now) } } : d;
    });
  return {
    ground,
    facts,
    error,
    change,
    name: onGround(job.document.piece).called(job.document.piece),
  };
}

/** The lists and their columns. */
export const useLookups = (enabled = true) =>
  useQuery({ queryKey: ['lookups'], queryFn: () => ask('listLookups'), enabled });

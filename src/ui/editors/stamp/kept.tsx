'use client';
import type * as contract from '../../../contract';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import {
  keepContent,
  useContent as contentFor,
  type KeptContent,
} from '../../../core/payload/kept';
import type { Stamp } from '../../../core/payload/stamp';
import { ask } from '../../kit/api';
import {
  ErrorLine,
  Part,
  PlainButton,
  QuietButton,
  Small,
  Warning,
  Words,
} from '../../kit/controls';
import { useMe } from '../../kit/me';
import { includes } from '../../../core/access/rights';
import { colour } from '../../kit/theme';
import { useBench } from './bench';
import { colourName } from './colour-editor';
import { kept as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

type KeptOf<K> = Extract<contract.KeptView, { kind: K }>;

/** The saved items of one kind, and how to save more. */
export function useKept<const K extends contract.KeptView['kind']>(kind: K) {
  const client = useQueryClient();
  const [error, setError] = useState<string>();
  const { data } = useQuery({
    queryKey: ['kept', kind],
    queryFn: () => ask('listKept', { query: { kind } }),
  });
  const then = (work: Promise<unknown>) =>
    void work.then(
      () => (setError(undefined), client.invalidateQueries({ queryKey: ['kept', kind] })),
      (e: unknown) => setError(e instanceof Error ? e.message : String(e)),
    );
  return {
    kept: (data?.kept ?? []).filter((k): k is KeptOf<K> => k.kind === kind),
    error,
    keep: (wanted: Extract<contract.Keep, { kind: K }>) => then(ask('keep', { body: wanted })),
    forget: (id: number) => then(ask('forgetKept', { params: { id } })),
  };
}

/** Saved items are for everybody, so they need the right to edit. */
function useMayKeep(): boolean {
  const me = useMe();
  return me !== undefined && includes(me.person.right, 'editor');
}

export function KeepAs({ label, onKeep }: { label: string; onKeep: (name: string) => void }) {
  const [name, setName] = useState('');
  const mayKeep = useMayKeep();
  if (!mayKeep) return null;
  return (
    <form
      style={{ display: 'flex', gap: 8, alignItems: 'end' }}
      onSubmit={(e) => {
        e.preventDefault();
        if (name.trim()) onKeep(name.trim());
        setName('');
      }}
    >
      <Words label={label} value={name} onChange={setName} />
      <QuietButton type="submit" isDisabled={name.trim() === ''}>
        {wording.save}
      </QuietButton>
    </form>
  );
}

export function KeptRow({
  name,
  about,
  onUse,
  onForget,
}: {
  name: string;
  about: string;
  onUse: () => void;
  onForget: () => void;
}) {
  const mayKeep = useMayKeep();
  return (
    <li style={{ display: 'flex', gap: 8, alignItems: 'baseline' }}>
      <span style={{ flex: 1, minWidth: 0 }}>
        <b style={{ fontWeight: 700 }}>{name}</b> <Small as="span">{about}</Small>
      </span>
      <QuietButton onPress={onUse}>{wording.use}</QuietButton>
      {mayKeep && (
        <PlainButton aria-label={`Delete ${name}`} onPress={onForget}>
          {wording.delete}
        </PlainButton>
      )}
    </li>
  );
}

/** Looks that were kept, for this stamp or any other. */
export function KeptLookPart({
  stamp,
  change,
}: {
  stamp: Stamp;
  change: (next: Partial<Stamp>) => void;
}) {
  const { kept, keep, forget, error } = useKept('look');
  return (
    <Part
      acts
      label={wording.savedLooks}
      editor={(close) => (
        <div style={{ display: 'grid', gap: 10, width: 380 }}>
          {kept.length > 0 ? (
            <ul
              style={{
                listStyle: 'none',
                margin: 0,
                padding: 0,
                display: 'grid',
                gap: 6,
                maxHeight: 240,
                overflow: 'auto',
              }}
            >
              {kept.map(({ id, name, document }) => (
                <KeptRow
                  key={id}
                  name={name}
                  about={filled(wording.mm, document.sizeMm, colourName(document.foreground))}
                  onUse={() => (change({ look: document }), close())}
                  onForget={() => forget(id)}
                />
              ))}
            </ul>
          ) : (
            <Small>{wording.noSavedLooksYet}</Small>
          )}
          <KeepAs
            label={wording.saveThisLookAs}
            onKeep={(name) => keep({ kind: 'look', name, document: stamp.look })}
          />
          {error && <ErrorLine>{error}</ErrorLine>}
        </div>
      )}
    >
      {wording.savedLooks}
    </Part>
  );
}

/** Saved contents: their columns are found in this list by name. */
export function KeptContents({
  stamp,
  change,
  close,
}: {
  stamp: Stamp;
  change: (next: Partial<Stamp>) => void;
  close: () => void;
}) {
  const { columns } = useBench();
  const { kept, keep, forget, error } = useKept('content');
  const [missing, setMissing] = useState<readonly string[]>([]);
  const use = (document: KeptContent) => {
    const found = contentFor(document, columns);
    setMissing(found.missing);
    change(found.content);
    if (found.missing.length === 0) close();
  };
  return (
    <div style={{ display: 'grid', gap: 8, borderTop: `1px solid ${colour.rule}`, paddingTop: 10 }}>
      {kept.length > 0 && (
        <ul
          style={{
            listStyle: 'none',
            margin: 0,
            padding: 0,
            display: 'grid',
            gap: 5,
            maxHeight: 150,
            overflow: 'auto',
          }}
        >
          {kept.map(({ id, name, document }) => (
            <KeptRow
              key={id}
              name={name}
              about={document.parts
                .map((p) =>
                  p.kind === 'text' ? p.text : `‹${document.columns[p.column]?.name ?? ''}›`,
                )
                .join('')
                .slice(0, 48)}
              onUse={() => use(document)}
              onForget={() => forget(id)}
            />
          ))}
        </ul>
      )}
      {missing.length > 0 && (
        <Warning>{withParts(wording.thisListHasNo, missing.join(' or '))}</Warning>
      )}
      <KeepAs
        label={wording.saveThisContentFor}
        onKeep={(name) => keep({ kind: 'content', name, document: keepContent(stamp, columns) })}
      />
      {error && <ErrorLine>{error}</ErrorLine>}
    </div>
  );
}

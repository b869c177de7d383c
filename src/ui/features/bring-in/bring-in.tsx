'use client';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { styled } from 'styled-components';
import { ask } from '../../kit/api';
import { ErrorLine } from '../../kit/controls';
import { Mark } from '../../kit/mark';
import { colour, font } from '../../kit/theme';
import { Preview } from './preview';
import { SignSource } from './sign-source';
import {
  DatabaseSource,
  FileSource,
  FolderSource,
  PasteSource,
  TraySource,
  TypedSource,
  type Reading,
} from './sources';
import { bringIn as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const Page = styled.main`
  overflow: auto;
  padding: 20px 20px 40px;
  h1 {
    font: 700 25px/1.2 ${font.title};
    margin-bottom: 14px;
  }
`;
const Layout = styled.div`
  display: grid;
  grid-template-columns: 300px minmax(0, 760px);
  gap: 34px;
  border-top: 1.5px solid ${colour.ink};
  nav {
    display: grid;
    align-content: start;
  }
  nav button {
    all: unset;
    box-sizing: border-box;
    cursor: pointer;
    padding: 9px 12px 9px 10px;
    border-bottom: 1px solid ${colour.rule};
    border-left: 3px solid transparent;
  }
  nav button b {
    display: block;
    font-weight: 700;
  }
  nav button small {
    color: ${colour.inkSoft};
    font-size: 12.5px;
  }
  nav button[aria-pressed='true'] {
    border-left-color: ${colour.violet};
    background: ${colour.paper};
  }
  nav button:focus-visible {
    outline: 2px solid ${colour.violet};
    outline-offset: -2px;
  }
  section {
    padding-top: 18px;
    display: grid;
    gap: 14px;
    align-content: start;
  }
  h2 {
    font: 700 17px/1.3 ${font.title};
  }
`;

/** The sources of records, each with its form. */
const sources = [
  { id: 'file', name: wording.aSpreadsheet, about: wording.xLSXXLSODSCSV, Form: FileSource },
  { id: 'paste', name: wording.aPaste, about: wording.rowsCopiedFromAnywhere, Form: PasteSource },
  { id: 'tray', name: wording.theInTray, about: wording.updatedWheneverAFile, Form: TraySource },
  {
    id: 'database',
    name: wording.aDatabase,
    about: wording.aTableOrA,
    Form: DatabaseSource,
  },
  {
    id: 'folder',
    name: wording.aFolderOfFiles,
    about: wording.oneRecordForEach,
    Form: FolderSource,
  },
  { id: 'typed', name: wording.typing, about: wording.orABlankSheet, Form: TypedSource },
  {
    id: 'sign',
    name: wording.noListAPoster,
    about: wording.onePieceInAs,
    Form: SignSource,
  },
] as const satisfies readonly {
  id: string;
  name: string;
  about: string;
  Form: (props: { reading: Reading }) => React.ReactNode;
}[];
type SourceId = (typeof sources)[number]['id'];

/**
 * Brings in records: from a file, a paste, the In-tray, a database, a folder or by hand; then the
 * sheet, headings and columns are chosen.
 */
export function BringIn() {
  const [id, setId] = useState<number>();
  const [source, setSource] = useState<SourceId>('file');
  const send = useMutation({
    mutationFn: (work: () => Promise<number>) => work(),
    onSuccess: setId,
  });
  const intake = useQuery({
    queryKey: ['intake', id],
    queryFn: () => ask('viewIntake', { params: { id } }),
    enabled: id !== undefined,
    refetchInterval: ({ state }) =>
      state.data && ['waiting', 'taking'].includes(state.data.state) ? 300 : false,
  });
  const again = () => {
    setId(undefined);
    send.reset();
  };
  const current = id === undefined ? undefined : intake.data;
  const busy = send.isPending || current?.state === 'waiting';
  const SourceForm = sources.find((one) => one.id === source)!.Form;
  return (
    <Page>
      <h1>{wording.bringInRecords}</h1>
      {current?.preview ? (
        <Preview
          key={`${current.id} ${JSON.stringify(current.preview.text)}`}
          intake={current}
          preview={current.preview}
          onTaking={() => void intake.refetch()}
          again={again}
        />
      ) : (
        <Layout>
          <nav aria-label={wording.whereTheRecordsCome}>
            {sources.map(({ id: which, name, about }) => (
              <button
                key={which}
                type="button"
                aria-pressed={which === source}
                onClick={() => (setSource(which), again())}
              >
                <b>{name}</b>
                <small>{about}</small>
              </button>
            ))}
          </nav>
          <section aria-label={sources.find((s) => s.id === source)!.name}>
            <SourceForm reading={{ read: (work) => send.mutate(work), busy }} />
            <div role="status" aria-live="polite">
              {(send.isPending ||
                (id !== undefined && !current) ||
                current?.state === 'waiting') && (
                <p>
                  {withParts(
                    wording.reading,
                    current?.waits && filled(wording.itWaits, current.waits),
                  )}
                </p>
              )}
              {(send.error || (current?.state === 'failed' && !current.preview)) && (
                <ErrorLine>
                  <Mark name="failed" /> {send.error?.message ?? current?.error}
                </ErrorLine>
              )}
              {intake.error && <ErrorLine>{intake.error.message}</ErrorLine>}
            </div>
          </section>
        </Layout>
      )}
    </Page>
  );
}

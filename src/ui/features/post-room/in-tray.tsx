'use client';
import * as contract from '../../../contract';

import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { ask } from '../../kit/api';
import { ErrorLine, Small } from '../../kit/controls';
import { when } from '../../kit/dates';
import { Table } from '../../kit/index-table';

/** What lies in the watched folder. */
export function InTray() {
  const { data, error } = useQuery({
    queryKey: ['tray'],
    queryFn: () => ask(contract.viewTray),
    refetchInterval: 3000,
  });
  if (error) return <ErrorLine>{error.message}</ErrorLine>;
  if (!data) return null;
  if (!data.folder) return <Small>This Hand Stamp was started without an In-tray.</Small>;
  return (
    <>
      <p style={{ paddingBottom: 10 }}>
        The folder <code>{data.folder}</code>. A spreadsheet saved there is read again by the lists
        that come from it. <Link href="/bring-in">Bring one in</Link>.
      </p>
      {data.entries.length === 0 ? (
        <Small>It is empty.</Small>
      ) : (
        <Table style={{ maxWidth: 760 }}>
          <thead>
            <tr>
              <th>Name</th>
              <th>Kind</th>
              <th className="n">KB</th>
              <th>Saved</th>
            </tr>
          </thead>
          <tbody>
            {data.entries.map((e) => (
              <tr key={e.name}>
                <td>{e.name}</td>
                <td>{e.kind === 'folder' ? 'folder' : 'spreadsheet'}</td>
                <td className="n">
                  {e.kind === 'folder'
                    ? ''
                    : Math.max(1, Math.round(e.size / 1024)).toLocaleString('en')}
                </td>
                <td>{when(e.changed)}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
    </>
  );
}

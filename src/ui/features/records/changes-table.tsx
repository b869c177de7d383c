import { styled } from 'styled-components';
import type { ChangedRow } from '../../../contract';
import { shown } from '../../../core/records/sealed';
import { colour, font } from '../../kit/theme';
import { changesTable as wording } from './words';
import { withParts } from '../../kit/with-parts';

const Table = styled.table`
  width: 100%;
  border-collapse: collapse;
  font-size: 13.5px;
  td {
    border-top: 1px solid ${colour.rule};
    padding: 6px 10px 6px 0;
    vertical-align: baseline;
  }
  .kind {
    width: 74px;
    color: ${colour.inkSoft};
  }
  .who {
    width: 190px;
    overflow-wrap: anywhere;
  }
  .who small {
    display: block;
    font: 400 12px/1.3 ${font.code};
    color: ${colour.inkSoft};
  }
  del {
    color: ${colour.failed};
    overflow-wrap: anywhere;
  }
  ins {
    text-decoration: none;
    color: ${colour.ready};
    font-weight: 700;
    overflow-wrap: anywhere;
  }
  .cell {
    display: block;
    font-size: 13px;
  }
  .cell b {
    font-weight: 400;
    color: ${colour.inkSoft};
  }
`;

const words = { added: 'added', changed: 'changed', gone: 'gone' } as const;
const most = 6;

/** Changes of records, row by row and cell by cell: old values and new ones. */
export function ChangesTable({ rows }: { rows: readonly ChangedRow[] }) {
  return (
    <Table>
      <tbody>
        {rows.map((row) => (
          <tr key={row.seq}>
            <td className="kind">{words[row.change]}</td>
            <td className="who">
              {row.title || wording.noTitle}
              <small>{row.key}</small>
            </td>
            <td>
              {row.cells.slice(0, most).map((cell, i) => (
                <span className="cell" key={i}>
                  <b>{cell.column}:</b>{' '}
                  {row.change !== 'added' && <del>{shown(cell.before) || 'blank'}</del>}
                  {row.change === 'changed' && ' → '}
                  {row.change !== 'gone' && <ins>{shown(cell.after) || 'blank'}</ins>}
                  {cell.clash && wording.changedByHandHere}
                </span>
              ))}
              {row.cells.length > most && (
                <span className="cell">
                  {withParts(wording.andMoreCells, row.cells.length - most)}
                </span>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}

'use client';

import { styled } from 'styled-components';
import { colour, row, spineWidth } from '../../kit/theme';
import { opening as wording } from './words';

/** The ledger without anything in it, in its own measures, so that little jumps. */
const Empty = styled.main`
  min-height: 0;
  display: grid;
  grid-template-columns: ${spineWidth}px 1fr;
  grid-template-rows: 74px 160px 1fr;
  p {
    grid-column: 1 / -1;
    margin: 0;
    padding: 16px 20px;
    color: ${colour.inkSoft};
  }
  .says {
    grid-column: 1 / -1;
    background: ${colour.paper};
    border: 1px solid ${colour.rule};
    border-width: 1px 0;
  }
  .rows {
    background: repeating-linear-gradient(
      transparent 0 ${row - 1}px,
      ${colour.rule} ${row - 1}px ${row}px
    );
  }
  .rows + .rows {
    border-left: 1px solid ${colour.rule};
  }
`;

/** A job that is being opened. */
export function Opening() {
  return (
    <Empty>
      <p role="status">{wording.openingTheJob}</p>
      <div className="says" />
      <div className="rows" />
      <div className="rows" />
    </Empty>
  );
}

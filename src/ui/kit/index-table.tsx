'use client';

import { styled } from 'styled-components';
import { colour, font } from './theme';

export const Page = styled.main`
  overflow: auto;
  padding: 20px 20px 40px;
  header {
    display: flex;
    align-items: baseline;
    gap: 18px;
    margin-bottom: 12px;
  }
  h1 {
    font: 700 25px/1.2 ${font.title};
    flex: 1;
  }
`;
/** The heading of a part of such a page. */
export const PartTitle = styled.h2`
  font: 700 17px/1.3 ${font.title};
  margin: 26px 0 8px;
`;
export const Table = styled.table`
  width: 100%;
  border-collapse: collapse;
  border-top: 1.5px solid ${colour.ink};
  th {
    text-align: left;
    font-weight: 400;
    font-size: 12.5px;
    color: ${colour.inkSoft};
    padding: 7px 12px;
    border-bottom: 1px solid ${colour.ruleStrong};
  }
  td {
    padding: 0 12px;
    height: 38px;
    border-bottom: 1px solid ${colour.rule};
  }
  td a {
    display: inline-block;
    min-width: 24px;
    line-height: 26px;
  }
  td:first-child a {
    font-weight: 700;
    color: ${colour.ink};
    text-decoration: none;
    display: block;
    line-height: 37px;
  }
  td:first-child a:hover {
    text-decoration: underline;
  }
  tbody tr:hover {
    background: ${colour.paper};
  }
  .n {
    text-align: right;
    font-variant-numeric: tabular-nums;
  }
  .m {
    display: inline-flex;
    gap: 6px;
    align-items: center;
  }
`;

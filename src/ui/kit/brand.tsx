import { styled } from 'styled-components';
import { colour, font } from './theme';
import { brand as wording } from './words';
import { withParts } from './with-parts';

const Words = styled.span`
  display: flex;
  align-items: center;
  gap: 9px;
  font: 700 18px/1 ${font.title};
  color: ${colour.ink};
`;

/** Our name and its ring. */
export function Brand() {
  return (
    <Words>
      {withParts(
        wording.handStamp,
        <svg width="22" height="22" viewBox="0 0 22 22" aria-hidden>
          <circle cx="11" cy="11" r="9.5" fill="none" stroke={colour.violet} strokeWidth="2.2" />
          <circle cx="11" cy="11" r="5" fill={colour.violet} />
        </svg>,
      )}
    </Words>
  );
}

'use client';

import { styled } from 'styled-components';
import { Page } from '../../kit/index-table';
import { colour, font } from '../../kit/theme';
import { InTray } from './in-tray';
import { OutTray } from './out-tray';
import { Printers } from './printers';
import { StandInProgram } from './program';

const Section = styled.section`
  padding: 16px 0 24px;
  border-top: 1.5px solid ${colour.ink};
  h2 {
    font: 700 18px/1.3 ${font.title};
    margin-bottom: 8px;
  }
`;

/** Where the stand-ins live: what comes in, what goes out, what prints. */
export function PostRoom() {
  return (
    <Page>
      <header>
        <h1>Post room</h1>
      </header>
      <Section aria-label="In-tray">
        <h2>In-tray</h2>
        <InTray />
      </Section>
      <Section aria-label="Out-tray">
        <h2>Out-tray</h2>
        <OutTray />
      </Section>
      <Section aria-label="Printers">
        <h2>Printers</h2>
        <Printers />
      </Section>
      <Section aria-label="Programs">
        <h2>Programs</h2>
        <StandInProgram />
      </Section>
    </Page>
  );
}

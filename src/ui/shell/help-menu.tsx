'use client';

import { usePathname } from 'next/navigation';
import { useState } from 'react';
import { styled } from 'styled-components';
import { Part, QuietButton } from '../kit/controls';
import { Link } from '../kit/link';
import { colour } from '../kit/theme';
import { ShortcutsDialog } from './shortcuts';
import { helpMenu as wording } from './words';
import { withParts } from '../kit/with-parts';

const Menu = styled.div`
  display: grid;
  gap: 10px;
  min-width: 230px;
  a {
    color: ${colour.violetDeep};
    text-decoration: underline;
  }
`;

/** The page of the guide that is about a screen, by the start of its address. */
const aboutScreens: readonly (readonly [path: string, page: string, name: string])[] = [
  ['/bring-in', 'records', wording.bringingInRecords],
  ['/lists', 'records', wording.listsAndRecords],
  ['/jobs/', 'first-badges', wording.aJobFromRecords],
  ['/jobs', 'first-badges', wording.yourFirstBadges],
  ['/code', 'codes', wording.oneCode],
  ['/links', 'links', wording.links],
  ['/checkpoints', 'checkpoints', wording.checkpoints],
  ['/rounds', 'checkpoints', wording.rounds],
  ['/orders', 'standing-orders', wording.standingOrders],
  ['/post-room', 'printing', wording.thePostRoom],
  ['/settings', 'administrators', wording.settings],
  ['/people', 'administrators', wording.people],
  ['/journal', 'administrators', wording.theJournal],
  ['/programs', 'administrators', wording.programsAndAPIKeys],
];

/** Help at the top right: the guide, the glossary, the shortcuts, and what this program is. */
export function HelpMenu() {
  const path = usePathname();
  const [shortcuts, setShortcuts] = useState(false);
  const here = aboutScreens.find(([start]) => path.startsWith(start));
  return (
    <>
      <Part
        plain
        looks
        label={wording.help}
        editor={(close) => (
          <Menu>
            {here && (
              <Link href={`/help/${here[1]}`} onClick={close}>
                {withParts(wording.helpForThisScreen, here[2])}
              </Link>
            )}
            <Link href="/help" onClick={close}>
              {wording.guide}
            </Link>
            <Link href="/help/glossary" onClick={close}>
              {wording.glossary}
            </Link>
            <Link href="/help/about" onClick={close}>
              {wording.aboutHandStamp}
            </Link>
            <div>
              <QuietButton
                looks
                onPress={() => {
                  close();
                  setShortcuts(true);
                }}
              >
                {wording.showKeyboardShortcuts}
              </QuietButton>
            </div>
          </Menu>
        )}
      >
        {wording.help}
      </Part>
      <ShortcutsDialog isOpen={shortcuts} setOpen={setShortcuts} />
    </>
  );
}

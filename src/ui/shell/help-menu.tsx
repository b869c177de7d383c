'use client';

import { usePathname } from 'next/navigation';
import { useState } from 'react';
import { styled } from 'styled-components';
import { Part, QuietButton } from '../kit/controls';
import { Link } from '../kit/link';
import { colour } from '../kit/theme';
import { ShortcutsDialog } from './shortcuts';

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
  ['/bring-in', 'records', 'Bringing in records'],
  ['/lists', 'records', 'Lists and records'],
  ['/jobs/', 'first-badges', 'A job, from records to print'],
  ['/jobs', 'first-badges', 'Your first badges'],
  ['/code', 'codes', 'One code'],
  ['/links', 'links', 'Links'],
  ['/checkpoints', 'checkpoints', 'Checkpoints'],
  ['/rounds', 'checkpoints', 'Rounds'],
  ['/orders', 'standing-orders', 'Standing orders'],
  ['/post-room', 'printing', 'The Post room'],
  ['/settings', 'administrators', 'Settings'],
  ['/people', 'administrators', 'People'],
  ['/journal', 'administrators', 'The journal'],
  ['/programs', 'administrators', 'Programs and API keys'],
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
        label="Help"
        editor={(close) => (
          <Menu>
            {here && (
              <Link href={`/help/${here[1]}`} onClick={close}>
                Help for this screen: {here[2]}
              </Link>
            )}
            <Link href="/help" onClick={close}>
              Guide
            </Link>
            <Link href="/help/glossary" onClick={close}>
              Glossary
            </Link>
            <Link href="/help/about" onClick={close}>
              About Hand Stamp
            </Link>
            <div>
              <QuietButton
                looks
                onPress={() => {
                  close();
                  setShortcuts(true);
                }}
              >
                Show keyboard shortcuts
              </QuietButton>
            </div>
          </Menu>
        )}
      >
        Help
      </Part>
      <ShortcutsDialog isOpen={shortcuts} setOpen={setShortcuts} />
    </>
  );
}

'use client';

import NextLink from 'next/link';
import { useState, type ComponentProps } from 'react';

/**
 * A link to another page. Its page is fetched when somebody reaches for it, by pointer, finger or
 * key: fetching all links in sight would be thirty requests for each page.
 */
export function Link(props: ComponentProps<typeof NextLink>) {
  const [reached, setReached] = useState(false);
  const reach = () => setReached(true);
  return (
    <NextLink
      {...props}
      prefetch={reached ? null : false}
      onPointerEnter={reach}
      onTouchStart={reach}
      onFocus={reach}
    />
  );
}

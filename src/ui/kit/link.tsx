'use client';

import NextLink from 'next/link';
import { useState, type ComponentProps } from 'react';

/**
 * A way to another page. What stands there is fetched once somebody reaches for it, by pointer,
 * finger or key: all that is in sight, fetched ahead, were thirty requests for each page opened.
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

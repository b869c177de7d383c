import { useEffect, useState, type RefObject } from 'react';

/** How large the sheets may be drawn: the whole sheet in sight. */
export function useRoom(box: RefObject<HTMLDivElement | null>) {
  const [room, setRoom] = useState({ width: 400, height: 460 });
  useEffect(() => {
    if (!box.current) return;
    const observer = new ResizeObserver(([entry]) =>
      setRoom({ width: entry!.contentRect.width, height: entry!.contentRect.height }),
    );
    observer.observe(box.current);
    return () => observer.disconnect();
  }, [box]);
  return room;
}

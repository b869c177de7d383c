'use client';

import { useEffect, useRef } from 'react';
import { addressOf, mostTicks, whereaboutsIn, type Whereabouts } from './address';

/**
 * Keeps the web address in step with the screen. Opening a band, searching and filtering are steps
 * of the history; the selected row and the ticks are in the address without a step.
 */
export function useAddress(job: number, now: Whereabouts, go: (to: Whereabouts) => void): void {
  const written = useRef(addressOf(now));
  const { band, view } = now;
  const place = useRef(JSON.stringify([band, view]));
  const many = `hand-stamp ticks of ${job}`;
  const goTo = useRef(go);
  useEffect(() => {
    goTo.current = go;
  });
  const address = addressOf(now);
  const ticked = now.ticked;
  useEffect(() => {
    if (ticked.length > mostTicks) sessionStorage.setItem(many, JSON.stringify(ticked));
  }, [many, ticked]);
  useEffect(() => {
    if (address === written.current) return;
    const here = JSON.stringify([band, view]);
    const step = here !== place.current;
    const write = () => {
      written.current = address;
      place.current = here;
      const url = `${location.pathname}${address && `?${address}`}`;
      if (step) history.pushState(null, '', url);
      else history.replaceState(null, '', url);
    };
    // a band that was opened is in the address before anything else happens, a reload too
    if (step) return write();
    // stepping through the records quickly is written down once it rests
    const timer = setTimeout(write, 150);
    return () => clearTimeout(timer);
  }, [address, band, view]);
  useEffect(() => {
    const back = () => {
      const to = whereaboutsIn(new URLSearchParams(location.search));
      written.current = addressOf(to);
      place.current = JSON.stringify([to.band, to.view]);
      goTo.current(withMany(to, many));
    };
    window.addEventListener('popstate', back);
    return () => window.removeEventListener('popstate', back);
  }, [many]);
  useEffect(() => {
    // more ticks than an address carries wait with the window
    if (new URLSearchParams(location.search).get('ticked') === 'many')
      goTo.current(withMany(whereaboutsIn(new URLSearchParams(location.search)), many));
  }, [many]);
}

function withMany(to: Whereabouts, key: string): Whereabouts {
  if (new URLSearchParams(location.search).get('ticked') !== 'many') return to;
  try {
    const kept: unknown = JSON.parse(sessionStorage.getItem(key) ?? '[]');
    return {
      ...to,
      ticked: Array.isArray(kept) ? kept.filter((n): n is number => typeof n === 'number') : [],
    };
  } catch {
    return to;
  }
}

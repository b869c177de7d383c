'use client';

import { createContext, useContext } from 'react';
import type { Me } from '../../contract';
import { includes, type Right } from '../../core/access/rights';

/** Who is signed in; undefined on pages that are for anybody. */
export const MeContext = createContext<Me | undefined>(undefined);
export const useMe = (): Me | undefined => useContext(MeContext);

/**
 * The right to what is shown. Controls of the kit that change something are absent for viewers;
 * those that change nothing say so (`looks`) and stay.
 */
export const MayContext = createContext<Right>('administrator');
export const useMay = (right: Right = 'editor'): boolean => includes(useContext(MayContext), right);

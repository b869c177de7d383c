'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo, useRef, useState } from 'react';
import type { OrderChoices, OrderView } from '../../../contract';
import { chipsBefore, listOf, type Order } from '../../../core/orders/order';
import { namesOf, type Names } from '../../../core/orders/says';
import type { Column } from '../../../core/records/columns';
import { ask } from '../../kit/api';

/** An order in the editor: its sentence, the names of things in it, and how to change it. */
export interface Held {
  view: OrderView;
  choices: OrderChoices;
  names: Names;
  /** Columns of the record, and what came in or was made before a step. */
  columnsBefore: (step: number) => Column[];
  say: (document: Order) => void;
}

export const useChoices = () =>
  useQuery({
    queryKey: ['order-choices'],
    queryFn: () => ask('choicesForOrders'),
    staleTime: 10_000,
  });

/** Changes of an order that are shown before the server has saved them. */
interface Said {
  name?: string;
  document?: Order;
}

/**
 * One order, and how to change it: each change is a version, shown at once and saved one after the
 * other, so that quick changes build on one another. If one is refused, the later ones go with it.
 */
export function useOrder(id: number) {
  const client = useQueryClient();
  const [problem, setProblem] = useState<string>();
  const [keeping, setKeeping] = useState(false);
  const key = useMemo(() => ['order', id], [id]);
  /** Changes that are not saved yet, in how many parts. */
  const onItsWay = useRef<{ said: Said; parts: number }>({ said: {}, parts: 0 });
  /** The order as it was kept last, of which the next change is made. */
  const kept = useRef<OrderView>(undefined);
  const saving = useRef(Promise.resolve());
  const refusals = useRef(0);
  const view = useQuery({
    queryKey: key,
    queryFn: () => ask('viewOrder', { params: { id } }),
    refetchInterval: 10_000,
    // asked before a change and answered after it, it would be an older version
    structuralSharing: (known, found) => {
      const [before, now] = [known, found] as [OrderView | undefined, OrderView];
      return {
        ...(before && before.version > now.version ? before : now),
        ...onItsWay.current.said,
      };
    },
  });
  /** @param work does something with the order as it is kept by then */
  const inTurn = (work: (as: OrderView) => Promise<OrderView>, said: Said = {}): Promise<void> => {
    const shown = client.getQueryData<OrderView>(key);
    if (!shown) return Promise.resolve();
    const way = onItsWay.current;
    if (way.parts === 0) kept.current = shown;
    onItsWay.current = { said: { ...way.said, ...said }, parts: way.parts + 1 };
    setProblem(undefined);
    setKeeping(true);
    client.setQueryData(key, { ...shown, ...said });
    const before = refusals.current;
    saving.current = saving.current.then(async () => {
      if (before !== refusals.current || !kept.current) return;
      try {
        const next = await work(kept.current);
        kept.current = next;
        const { said: more, parts } = onItsWay.current;
        onItsWay.current = parts === 1 ? { said: {}, parts: 0 } : { said: more, parts: parts - 1 };
        client.setQueryData(key, next);
        if (parts === 1) setKeeping(false);
        void client.invalidateQueries({ queryKey: ['orders'] });
        void client.invalidateQueries({ queryKey: ['order-log'] });
      } catch (error) {
        refusals.current += 1;
        onItsWay.current = { said: {}, parts: 0 };
        setKeeping(false);
        client.setQueryData(key, kept.current);
        setProblem(error instanceof Error ? error.message : String(error));
        void client.invalidateQueries({ queryKey: key });
      }
    });
    return saving.current;
  };
  const change = (said: Said) =>
    void inTurn(
      ({ version, name, document }) =>
        ask('changeOrder', {
          params: { id },
          body: { version, name, document, ...said },
        }),
      said,
    );
  return { view, problem, keeping, change, inTurn };
}

/** What the sentence of an order can use. */
export function heldOf(
  view: OrderView,
  choices: OrderChoices,
  say: (document: Order) => void,
): Held {
  const { document } = view;
  const columnsOf = (list: number | null) =>
    choices.lists.find((l) => l.id === list)?.columns ?? [];
  const examples = new Map(view.call?.places ?? []);
  return {
    view,
    choices,
    names: namesOf(choices, document),
    columnsBefore: (step) => [
      ...columnsOf(listOf(document.when)),
      ...chipsBefore(document, step, [...examples.keys()], columnsOf).map(
        ({ id, name }): Column => ({
          id,
          name: examples.get(name) ? `${name} (${examples.get(name)!.slice(0, 24)})` : name,
          role: 'text',
        }),
      ),
    ],
    say,
  };
}

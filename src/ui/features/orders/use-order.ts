'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import * as contract from '../../../contract';
import type { OrderChoices, OrderView } from '../../../contract';
import { chipsBefore, listOf, type Order } from '../../../core/orders/order';
import { namesOf, type Names } from '../../../core/orders/says';
import type { Column } from '../../../core/records/columns';
import { ask } from '../../kit/api';

/** An order as it is edited: what it says, how things in it are called, and how it is said anew. */
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
    queryFn: () => ask(contract.choicesForOrders),
    staleTime: 10_000,
  });

/** One order, and how it is changed: each change is a version, kept at once. */
export function useOrder(id: number) {
  const client = useQueryClient();
  const [problem, setProblem] = useState<string>();
  const view = useQuery({
    queryKey: ['order', id],
    queryFn: () => ask(contract.viewOrder, { params: { id } }),
    refetchInterval: 10_000,
    // asked before a change and answered after it, it would be an older version
    structuralSharing: (known, found) => {
      const [before, now] = [known, found] as [OrderView | undefined, OrderView];
      return before && before.version > now.version ? before : now;
    },
  });
  const take = (next: OrderView) => {
    client.setQueryData(['order', id], next);
    void client.invalidateQueries({ queryKey: ['orders'] });
    void client.invalidateQueries({ queryKey: ['order-log'] });
  };
  const doing = (work: Promise<OrderView>) => {
    setProblem(undefined);
    return work.then(take, (error: unknown) => {
      setProblem(error instanceof Error ? error.message : String(error));
      void view.refetch();
    });
  };
  const change = (next: { name?: string; document?: Order }) => {
    if (!view.data) return;
    const { version, name, document } = view.data;
    void doing(
      ask(contract.changeOrder, {
        params: { id },
        body: { version, name, document, ...next },
      }),
    );
  };
  return { view, problem, change, doing };
}

/** What can be spoken of in an order that is shown. */
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

import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, renderHook, waitFor } from '@testing-library/react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { OrderView } from '../../../src/contract';
import { useOrder } from '../../../src/ui/features/orders/use-order';

/** The order on the server, and the requests, each answered when a test says so. */
let order: OrderView;
interface Asked {
  path: string;
  body: { version: number; name?: string; document?: OrderView['document'] };
  answer(refusal?: string): void;
}
const asked: Asked[] = [];
const take = (body: Asked['body'], path: string) => {
  if (path.endsWith('/state')) order = { ...order, state: 'on' };
  else if (body.version !== order.version) throw new Error('changed in another window');
  else
    order = {
      ...order,
      name: body.name ?? order.name,
      document: body.document ?? order.document,
      version: order.version + 1,
    };
};

beforeEach(() => {
  asked.length = 0;
  order = {
    id: 4,
    name: 'Every morning',
    state: 'off',
    why: null,
    pausedUntil: null,
    document: { when: { kind: 'hand', list: 1 }, only: [], steps: [] } as never,
    version: 7,
    canUndo: false,
    changedBy: 'test',
    changedAt: '2026-11-28T08:00:00.000Z',
    trouble: null,
    next: null,
    call: null,
  };
  vi.stubGlobal('fetch', (path: string, init?: RequestInit) => {
    if (!init?.method || init.method === 'GET') return Promise.resolve(Response.json(order));
    const body = JSON.parse(String(init.body)) as Asked['body'];
    return new Promise<Response>((resolve) =>
      asked.push({
        path,
        body,
        answer(refusal) {
          try {
            if (refusal) throw new Error(refusal);
            take(body, path);
            resolve(Response.json(order));
          } catch (error) {
            resolve(Response.json({ error: (error as Error).message }, { status: 409 }));
          }
        },
      }),
    );
  });
});
afterEach(() => vi.unstubAllGlobals());

async function held() {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const { result } = renderHook(() => useOrder(4), {
    wrapper: ({ children }) => (
      <QueryClientProvider client={client}>{children}</QueryClientProvider>
    ),
  });
  await waitFor(() => expect(result.current.view.data?.version).toBe(7));
  const shown = () => result.current.view.data!;
  const steps = () => shown().document.steps.length;
  /** Adds one more step to what is shown by then. */
  const another = () =>
    act(() => {
      const { document } = shown();
      result.current.change({
        document: { ...document, steps: [...document.steps, { kind: 'none' } as never] },
      });
    });
  const request = (at: number) =>
    waitFor(() => {
      expect(asked.length).toBeGreaterThan(at);
      return asked[at]!;
    });
  return { client, result, shown, steps, another, request };
}

test('what is said quickly is said of what was said before it, and nothing is lost', async () => {
  const { shown, steps, another, request, result } = await held();
  another();
  await waitFor(() => expect(steps()).toBe(1));
  another();
  await waitFor(() => expect(steps()).toBe(2));
  act(() => result.current.change({ name: 'Every evening' }));
  await waitFor(() => expect(shown().name).toBe('Every evening'));
  // one after the other, each of what the one before it left
  const first = await request(0);
  expect(asked).toHaveLength(1);
  first.answer();
  const second = await request(1);
  // the answer to the first has neither the second step nor the name, and takes neither away
  expect([steps(), shown().name]).toEqual([2, 'Every evening']);
  second.answer();
  const third = await request(2);
  expect(third.body).toMatchObject({ version: 9, name: 'Every evening' });
  third.answer();
  expect(result.current.keeping).toBe(true);
  await waitFor(() => expect(shown().version).toBe(10));
  await waitFor(() => expect(result.current.keeping).toBe(false));
  expect(asked.map((a) => a.body.version)).toEqual([7, 8, 9]);
  expect([order.document.steps.length, order.name]).toEqual([2, 'Every evening']);
  expect(result.current.problem).toBeUndefined();
});

test('where one is refused, what was said on top of it goes with it and is not sent', async () => {
  const { shown, steps, another, request, result } = await held();
  another();
  await waitFor(() => expect(steps()).toBe(1));
  another();
  await waitFor(() => expect(steps()).toBe(2));
  // in the meantime somebody else has changed it
  order = { ...order, name: 'Theirs', version: 8 };
  (await request(0)).answer();
  await waitFor(() => expect(result.current.problem).toMatch(/another window/));
  await waitFor(() => expect([steps(), shown().name, shown().version]).toEqual([0, 'Theirs', 8]));
  expect(result.current.keeping).toBe(false);
  expect(asked).toHaveLength(1);
  // and the next change is made from the current state
  another();
  const next = await request(1);
  expect(next.body).toMatchObject({ version: 8, name: 'Theirs' });
  next.answer();
  await waitFor(() => expect([steps(), shown().version]).toEqual([1, 9]));
  expect(result.current.problem).toBeUndefined();
});

test('a look in between does not take back what is being kept, nor lend it a version of others', async () => {
  const { client, shown, steps, another, request, result } = await held();
  another();
  await waitFor(() => expect(steps()).toBe(1));
  const first = await request(0);
  order = { ...order, name: 'Theirs', version: 8 };
  await act(() => client.refetchQueries({ queryKey: ['order', 4] }));
  expect(steps()).toBe(1);
  another();
  // it was made from version 7, and is refused instead of overwriting theirs unseen
  first.answer();
  await waitFor(() => expect(result.current.problem).toMatch(/another window/));
  await waitFor(() => expect([steps(), shown().name]).toEqual([0, 'Theirs']));
  expect(asked).toHaveLength(1);
});

test('switching on waits for what is being kept', async () => {
  const { shown, another, request, result } = await held();
  another();
  const first = await request(0);
  act(() => {
    void result.current.inTurn(() =>
      fetch('/api/orders/4/state', { method: 'POST', body: '{"version":0}' }).then(
        (answer) => answer.json() as Promise<OrderView>,
      ),
    );
  });
  expect(asked).toHaveLength(1);
  first.answer();
  (await request(1)).answer();
  await waitFor(() => expect([shown().state, shown().version]).toEqual(['on', 8]));
});

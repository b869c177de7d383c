/** An interface to walk a tree of nodes of any library. */
export interface Tree<N> {
  parent(node: N): N | null | undefined;
  children(node: N): readonly N[];
  isTableRow(node: N): boolean;
}

/** Neighbours from one node to another; the whole table row if that crosses its cells. */
export function between<N>(first: N, last: N, { parent, children, isTableRow }: Tree<N>): N[] {
  if (first === last) return [first];
  const above = (node: N): N[] => {
    const chain: N[] = [];
    for (let up: N | null | undefined = node; up; up = parent(up)) chain.unshift(up);
    return chain;
  };
  const [a, b] = [above(first), above(last)];
  let depth = 0;
  while (a[depth + 1] && a[depth + 1] === b[depth + 1]) depth++;
  const holder = a[depth]!;
  // one is inside the other, or both are in one row
  if (!a[depth + 1] || !b[depth + 1] || isTableRow(holder)) return [holder];
  const inside = children(holder);
  return inside.slice(inside.indexOf(a[depth + 1]!), inside.indexOf(b[depth + 1]!) + 1);
}

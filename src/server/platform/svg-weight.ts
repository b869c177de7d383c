import { isTag, type Element } from 'domhandler';
import { DomUtils, parseDocument } from 'htmlparser2';

/** The most elements of a drawing once all repeats are counted. */
const mostDrawn = 100_000;

/**
 * Whether drawing an SVG would cost far more than its size suggests: a few lines in which each
 * element shows the one before it ten times draw millions. Counted without drawing: each element
 * once, and what it refers to (`use`, fills, masks, markers) as often as it refers to it.
 */
export function isHeavySvg(bytes: Uint8Array): boolean {
  const root = parseDocument(Buffer.from(bytes).toString('utf8'), { xmlMode: true });
  const elements = DomUtils.getElementsByTagName('*', root);
  const byId = new Map(elements.flatMap((e) => (e.attribs.id ? [[e.attribs.id, e] as const] : [])));
  const known = new Map<Element, number>();
  const open = new Set<Element>();
  // children and references first; an explicit stack, since a file may nest deeply
  const weigh = (top: Element): number => {
    const stack: Element[] = [top];
    while (stack.length > 0) {
      const element = stack[stack.length - 1]!;
      if (known.has(element)) {
        stack.pop();
        continue;
      }
      const parts = [...element.children.filter(isTag), ...referred(element, byId)];
      const waiting = parts.filter((part) => !known.has(part) && !open.has(part));
      if (waiting.length > 0 && !open.has(element)) {
        open.add(element);
        stack.push(...waiting);
        continue;
      }
      open.delete(element);
      stack.pop();
      // an element that shows itself is not drawn
      const sum = parts.reduce((total, part) => total + (known.get(part) ?? 0), 1);
      known.set(element, Math.min(sum, mostDrawn + 1));
    }
    return known.get(top)!;
  };
  return root.children.filter(isTag).some((element) => weigh(element) > mostDrawn);
}

/** Elements that an element shows in addition to its children. */
function referred(element: Element, byId: ReadonlyMap<string, Element>): Element[] {
  const ids = Object.entries(element.attribs).flatMap(([name, value]) =>
    /^(xlink:)?href$/.test(name)
      ? value.startsWith('#')
        ? [value.slice(1)]
        : []
      : [...value.matchAll(/url\(\s*['"]?#([^'")\s]+)/g)].map(([, id]) => id!),
  );
  return ids.flatMap((id) => byId.get(id) ?? []);
}

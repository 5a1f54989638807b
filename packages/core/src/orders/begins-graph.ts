import type { OrderPart } from './order-file.ts';

/** On what the begin and the end of each part hang. */

interface Node {
  part: OrderPart;
  end: 'begin' | 'end';
}

/** A node, and the field of the part before it that leads there; none where a part's end hangs on its own begin. */
interface Edge {
  node: Node;
  field?: string;
}

/** A step of a circle: a part, and its field that leads to the next one. */
export interface CircleStep {
  part: OrderPart;
  field: string;
}

/** A circle among the begins and ends of parts, in the order in which they hang on each other; undefined where there is none. */
export function circleOf(parts: readonly OrderPart[]): CircleStep[] | undefined {
  const byId = new Map(parts.map((part) => [part.id, part]));
  const done = new Set<string>();
  const path: Edge[] = [];
  const key = ({ part, end }: Node) => `${end} ${part.id}`;
  const circleFrom = (edge: Edge): CircleStep[] | undefined => {
    const { node } = edge;
    if (done.has(key(node))) return undefined;
    const back = path.findIndex((one) => key(one.node) === key(node));
    if (back >= 0) {
      // the field by which each was reached belongs to the part before it
      const steps = [...path.slice(back + 1), edge];
      return steps.flatMap(({ field }, i) => (field ? [{ part: path[back + i].node.part, field }] : []));
    }
    path.push(edge);
    for (const next of edgesOf(node, byId)) {
      const circle = circleFrom(next);
      if (circle) return circle;
    }
    path.pop();
    done.add(key(node));
    return undefined;
  };
  for (const part of parts) {
    const circle = circleFrom({ node: { part, end: 'end' } });
    if (circle) return circle;
  }
  return undefined;
}

function edgesOf({ part, end }: Node, byId: ReadonlyMap<string, OrderPart>): Edge[] {
  const to = (id: string, at: Node['end'], field: string): Edge[] => {
    const other = byId.get(id);
    return other ? [{ node: { part: other, end: at }, field }] : [];
  };
  const { begins, lasts } = part;
  if (end === 'begin') {
    if ('after' in begins) return begins.after === null ? [] : to(begins.after, 'end', 'begins.after');
    return 'with' in begins ? to(begins.with, 'begin', 'begins.with') : to(begins.into, 'begin', 'begins.into');
  }
  const until = !lasts
    ? []
    : 'untilEndOf' in lasts
      ? to(lasts.untilEndOf, 'end', 'lasts.untilEndOf')
      : to(lasts.untilBeginOf, 'begin', 'lasts.untilBeginOf');
  return [{ node: { part, end: 'begin' } }, ...until];
}

/** Graphs: what leads to each other, and pairs of schemas that rest on one another, against the plain way. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { stronglyConnectedComponents } from '../../../../src/core/base/strong-components.ts';
import type { Schema } from '../../../../src/core/schema/model/schema.ts';
import type { PairNode } from '../../../../src/core/schema/subschema/pair.ts';
import { PairGraph } from '../../../../src/core/schema/subschema/pair-graph.ts';
import { runs } from '../../../runs.ts';

const SIZE = 9;
const node = fc.nat(SIZE - 1);
const graphs = fc.uniqueArray(fc.tuple(node, node), { maxLength: 22, selector: ([a, b]) => a * SIZE + b });
type Edges = readonly (readonly [number, number])[];

/** How many edges it takes from one node to each that can be reached. */
function distances(edges: Edges, from: number): ReadonlyMap<number, number> {
  const found = new Map([[from, 0]]);
  for (const [at, far] of found) for (const [a, b] of edges) if (a === at && !found.has(b)) found.set(b, far + 1);
  return found;
}

test('components are the largest sets whose members lead to each other, each behind what it leads to', () => {
  fc.assert(
    fc.property(graphs, node, (edges, root) => {
      const nodes = Array.from({ length: SIZE }, (_, id) => ({ id }));
      const next = ({ id }: { id: number }) => edges.flatMap(([a, b]) => (a === id ? [nodes[b] as { id: number }] : []));
      const found = stronglyConnectedComponents(nodes[root] as { id: number }, next, () => false).map((c) => c.map((n) => n.id));
      expect(found.flat().sort()).toEqual([...distances(edges, root).keys()].sort());
      const place = new Map(found.flatMap((c, i) => c.map((id) => [id, i] as const)));
      for (const a of found.flat()) {
        for (const b of found.flat()) {
          const both = distances(edges, a).has(b) && distances(edges, b).has(a);
          expect([a, b, place.get(a) === place.get(b)]).toEqual([a, b, both]);
        }
        for (const [from, to] of edges) if (from === a) expect(place.get(to)).toBeLessThanOrEqual(place.get(a) as number);
      }
    }),
    { numRuns: runs(500) },
  );
});

/** Schemas that say nothing by themselves: what is asked of two of them is what the graph says. */
function webOf(edges: Edges, flawed: ReadonlySet<number>) {
  const schema = (id: number): Schema => ({
    place: { file: 'canal.json', pointer: `/${id}` },
    raw: undefined,
    keywords: () => true,
  });
  const [old, now] = [0, 1].map(() => Array.from({ length: SIZE }, (_, id) => schema(id))) as [Schema[], Schema[]];
  let looks = 0;
  const web = new PairGraph<string>((a) => {
    looks += 1;
    const id = old.indexOf(a);
    const steps = edges.flatMap(([from, to]) =>
      from === id ? [{ pointer: `/p${to}`, a: old[to] as Schema, b: now[to] as Schema }] : [],
    );
    return { flaw: flawed.has(id) ? `flaw ${id}` : undefined, steps };
  });
  const pair = (id: number): PairNode<string> => web.nodeFor(old[id] as Schema, now[id] as Schema);
  return { web, pair, idOf: (p: { readonly a: Schema }) => old.indexOf(p.a), looks: () => looks };
}
const sets = fc
  .subarray(
    Array.from({ length: SIZE }, (_, i) => i),
    { maxLength: 4 },
  )
  .map((list) => new Set(list));

/** Everything that is asked of a web, held against the graph. */
function holds(edges: Edges, flawed: ReadonlySet<number>, { web, pair, idOf }: ReturnType<typeof webOf>): void {
  for (let id = 0; id < SIZE; id++) {
    const root = pair(id);
    const far = distances(edges, id);
    const wrong = [...flawed].filter((f) => far.has(f)).sort();
    expect([id, root.isRefuted]).toEqual([id, wrong.length > 0]);
    expect([id, ...web.failuresBelow(root).map(idOf).sort()]).toEqual([id, ...wrong]);
    for (const reached of web.nearestFailures(root, SIZE)) expect(flawed.has(idOf(reached.pair))).toBe(true);
    for (const f of wrong) {
      const way = web.shortestPath(root, pair(f));
      // The shortest way, along edges, and told as one pointer.
      expect([id, f, way?.pointers.length]).toEqual([id, f, far.get(f)]);
      const ids = way?.path.map(idOf) ?? [];
      expect([ids[0], ids.at(-1), way?.pointer]).toEqual([
        id,
        f,
        ids
          .slice(1)
          .map((i) => `/p${i}`)
          .join(''),
      ]);
      for (const [i, a] of ids.slice(0, -1).entries()) expect(edges).toContainEqual([a, ids[i + 1]]);
    }
  }
}

test('a pair fails where something that it rests on is flawed; each is looked at once, and the way there is the shortest', () => {
  fc.assert(
    fc.property(graphs, sets, (edges, flawed) => {
      const made = webOf(edges, flawed);
      holds(edges, flawed, made);
      expect(made.looks()).toBe(SIZE);
    }),
    { numRuns: runs(400) },
  );
});

test('what a pair does not rest on after all is as if it had never been there', () => {
  fc.assert(
    fc.property(graphs, sets, fc.nat(), fc.nat(), (edges, flawed, at, other) => {
      const made = webOf(edges, flawed);
      for (let id = 0; id < SIZE; id++) made.pair(id);
      const gone = edges[at % Math.max(1, edges.length)];
      const mended = [...flawed][other % Math.max(1, flawed.size)];
      if (gone !== undefined) made.web.removeDependency(made.pair(gone[0]), { pointer: `/p${gone[1]}`, to: made.pair(gone[1]) });
      if (mended !== undefined) made.web.refine(made.pair(mended), undefined, []);
      made.web.recomputeFixedPoint();
      holds(
        edges.filter((e) => e !== gone),
        new Set([...flawed].filter((f) => f !== mended)),
        made,
      );
    }),
    { numRuns: runs(400) },
  );
});

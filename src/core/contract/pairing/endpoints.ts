/** Everything that a service serves or documents, by path and method: the two sides side by side. */
import { pathKeys } from '../../paths/keys.ts';
import { literalText, type Shape } from '../../paths/pattern.ts';
import { parseTemplate } from '../../paths/template.ts';
import { ANY_METHOD, type Route, type RouteTable } from '../../routes/table/route.ts';
import type { Operation } from '../model/contract.ts';
import type { Documented, Pairing } from './pair-operations.ts';

export interface Endpoint {
  readonly method: string;
  readonly path: Path;
  readonly shape: Shape;
  readonly route: Route | undefined;
  readonly operation: Operation | undefined;
}

/** A path by what it matches: `{id}` and `{lockId}` at one place are one. */
export interface Path {
  /** One language each segment; a slash at the end and a format behind the last word say nothing. */
  readonly keys: readonly string[];
  /** As people write it; the table's spelling where it has one. */
  readonly text: string;
  /** The parameter that its last segment is, if it is one. */
  readonly parameter: string | undefined;
  /** The tail that it ends with, if it does. */
  readonly tail: string | undefined;
}

/** The path of a shape with every parameter taken as text. */
function pathOf(shape: Shape, text: string): Path {
  const ends = shape.length > 1 && literalText(shape[shape.length - 1] as Shape[number]) === '';
  const last = shape[shape.length - (ends ? 2 : 1)];
  const only = last?.parts.length === 1 ? last.parts[0] : undefined;
  return {
    keys: withoutFormat(pathKeys(shape)),
    text,
    parameter: only?.kind === 'parameter' ? only.name : undefined,
    tail: only?.kind === 'tail' ? only.name : undefined,
  };
}

/** `/locks`, `/locks/` and `/locks.json` are one resource. */
function withoutFormat(keys: readonly string[]): readonly string[] {
  const bare = keys.length > 1 && keys.at(-1) === '=' ? keys.slice(0, -1) : keys;
  const last = bare.at(-1) ?? '';
  const plain = last.startsWith('=') ? last.replace(/(?<=.)\.(?:json|xml|ya?ml)$/u, '') : last;
  return plain === last ? bare : [...bare.slice(0, -1), plain];
}

/** The fullest shape of a route, without a format that may stand behind its last segment: `/yards/:id(.:format)`. */
function usualShape({ pattern }: Route): Shape {
  const [full = []] = pattern.shapes;
  const hasFormat = (shape: Shape): boolean => {
    const [dot, format] = (shape.at(-1)?.parts ?? []).slice(-2);
    return dot?.kind === 'literal' && dot.text.endsWith('.') && format?.kind === 'parameter';
  };
  if (pattern.partial === undefined || !hasFormat(full)) return full;
  return pattern.shapes.find((s) => s.length === full.length && !hasFormat(s)) ?? full;
}

/** The path of a route: where a document writes its tail as a parameter, it stands where the document puts it. */
function pathServed(shape: Shape, route: Route, documented: Documented | undefined): Path {
  const own = pathOf(shape, route.path.replace(/\(\.:\w+\)$/u, ''));
  if (own.tail === undefined || documented === undefined) return own;
  const [described = []] = parseTemplate(documented.path).shapes;
  return { ...pathOf(described, route.path), parameter: own.tail, tail: own.tail };
}

/** The endpoints of a service, the table's first, in their order. `HEAD` and `OPTIONS`, which routers answer, are left out. */
export function endpointsOf(
  table: RouteTable | undefined,
  pairing: Pairing | undefined,
  operations: readonly Documented[],
): readonly Endpoint[] {
  const out: Endpoint[] = [];
  const seen = new Set<Operation>();
  for (const route of table?.routes ?? []) {
    if (route.isBarrier) continue;
    const documented = pairing?.documentedBy.get(route) ?? [];
    const shape = usualShape(route);
    for (const method of route.methods) {
      if (BY_ROUTER.has(method)) continue;
      const described = documented.find((d) => d.operation.method === method);
      if (described !== undefined) seen.add(described.operation);
      const path = pathServed(shape, route, described);
      out.push({ method, path, shape, route, operation: described?.operation });
    }
    if (route.methods.includes(ANY_METHOD)) for (const { operation } of documented) seen.add(operation);
  }
  for (const { operation, path } of operations) {
    if (seen.has(operation) || BY_ROUTER.has(operation.method)) continue;
    const [shape = []] = parseTemplate(path).shapes;
    out.push({ method: operation.method, path: pathOf(shape, path), shape, route: undefined, operation });
  }
  return out;
}

const BY_ROUTER: ReadonlySet<string> = new Set(['HEAD', 'OPTIONS']);

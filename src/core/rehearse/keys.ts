/** Real keys for the parameters of paths: given by people, or read from the answers of lists. */
import { isMapping } from '../base/json.ts';
import { percentDecoded, percentEncoded } from '../base/percent.ts';
import { isKey } from '../contract/resources/item-keys.ts';
import { literalText, type Shape } from '../paths/pattern.ts';
import { follow } from '../routes/follow/follow.ts';
import type { RoutingOutcome } from '../routes/follow/outcome.ts';
import type { Router } from '../routes/index/router.ts';
import type { Request } from '../routes/request/request.ts';
import type { Answer } from './answer.ts';

/** A parameter that is a segment by itself. */
interface Slot {
  readonly at: number;
  readonly name: string;
}

/** What is known of keys while a service is asked. */
export class KnownKeys {
  private readonly lists = new Map<string, unknown>();

  /** `given` by the name of a parameter, or by a path as the table writes it and the name: `/locks/{lockId} lockId`. */
  constructor(private readonly given: ReadonlyMap<string, string>) {}

  /** Keeps the answer of a list, for the items below its path. */
  learn({ leaf, request }: RoutingOutcome, answer: Answer): void {
    if (leaf === undefined || request.method !== 'GET' || answer.status < 200 || answer.status > 299) return;
    const value = jsonOf(answer);
    if (value !== undefined) this.lists.set(templateOf(leaf.shape, leaf.shape.length), value);
  }

  /** The request with keys that people gave and, where `withLists`, with those that lists named. O(segments). */
  fill(router: Router, following: RoutingOutcome, withLists: boolean): RoutingOutcome {
    const { leaf } = following;
    if (leaf === undefined) return following;
    const { path } = leaf.route;
    return withKeys(router, following, ({ at, name }) => {
      const given = this.given.get(`${path} ${name}`) ?? this.given.get(name);
      return given ?? (withLists ? keyIn(this.lists.get(templateOf(leaf.shape, at)), name) : undefined);
    });
  }
}

/** The request below another one: with the same keys as far as its path goes, and then with `key`. O(segments). */
export function belowWith(router: Router, following: RoutingOutcome, above: RoutingOutcome, key: string): RoutingOutcome {
  const length = above.leaf?.shape.length ?? 0;
  const segments = (above.request.target.split('?', 1)[0] as string).split('/').slice(1);
  return withKeys(router, following, ({ at }) =>
    at < length ? percentDecoded(segments[at] ?? '') : at === length ? key : undefined,
  );
}

/** The request with other texts in its path, where it still reaches the same route. */
function withKeys(router: Router, following: RoutingOutcome, keyFor: (slot: Slot) => string | undefined): RoutingOutcome {
  const { leaf, request } = following;
  const texts = slotsOf(leaf?.shape ?? []).flatMap((slot) => {
    const text = keyFor(slot);
    return text === undefined ? [] : [[slot.at, text] as const];
  });
  if (texts.length === 0) return following;
  const filled = follow(router, withSegments(request, new Map(texts)));
  // What it rests on is the same: it is the same route.
  return filled.leaf === leaf && filled.outcome === following.outcome ? { ...filled, restsOn: following.restsOn } : following;
}

/** The parameters of a path that are segments by themselves. */
export function slotsOf(shape: Shape): readonly Slot[] {
  return shape.flatMap((piece, at) => {
    const [part, ...more] = piece.parts;
    return part?.kind === 'parameter' && more.length === 0 ? [{ at, name: part.name }] : [];
  });
}

/** The first segments of a path, whatever its parameters are called. */
export function templateOf(shape: Shape, end: number): string {
  return shape
    .slice(0, end)
    .map((piece) => `/${literalText(piece) ?? '{}'}`)
    .join('');
}

function withSegments(request: Request, texts: ReadonlyMap<number, string>): Request {
  const [path = '', query] = request.target.split(/\?(.*)/su);
  const segments = path.split('/').map((segment, i) => {
    const text = texts.get(i - 1);
    return text === undefined ? segment : percentEncoded(text);
  });
  return { ...request, target: segments.join('/') + (query === undefined ? '' : `?${query}`) };
}

/** The JSON of an answer; undefined where it is none. */
export function jsonOf({ headers, body }: Answer): unknown {
  if (!/[/+]json\b/iu.test(headers['content-type'] ?? '')) return undefined;
  try {
    return JSON.parse(body) as unknown;
  } catch {
    return undefined;
  }
}

/** So many objects deep a key is looked for. */
const MAX_DEPTH = 3;

/** The key of the first item of a list, or of the object itself: by the name of its parameter before any other name. */
export function keyIn(value: unknown, name: string, depth = 0): string | undefined {
  if (typeof value === 'string' || typeof value === 'number') return depth === 0 ? undefined : String(value);
  if (depth > MAX_DEPTH) return undefined;
  if (Array.isArray(value)) return value.length === 0 ? undefined : keyIn(value[0], name, depth + 1);
  if (!isMapping(value)) return undefined;
  const texts = Object.entries(value).filter(([, v]) => typeof v === 'string' || typeof v === 'number');
  const found = texts.find(([key]) => key.toLowerCase() === name.toLowerCase()) ?? texts.find(([key]) => isKey(key, name));
  // An address ends with the key.
  if (found !== undefined) return String(found[1]).split(/[?#]/u)[0]?.replace(/\/$/u, '').split('/').at(-1);
  const inner = Object.values(value).filter((v) => typeof v === 'object' && v !== null);
  for (const part of inner) {
    const key = keyIn(part, name, depth + 1);
    if (key !== undefined) return key;
  }
  return undefined;
}

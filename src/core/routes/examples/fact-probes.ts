/** Requests by which the value of a router fact shows: a usual request, written as routers read it differently. */
import { literalText, type Shape } from '../../paths/pattern.ts';
import type { RouteShape } from '../index/segment-tree.ts';
import type { Request } from '../request/request.ts';
import { FACTS, type FactName, type Facts } from '../table/router-facts.ts';

/** What can be said of a router; `longestValue` and `suffixes` are no names of values. */
export type AnyFact = FactName | 'longestValue' | 'suffixes';

/** The facts in which two routers differ, in the order in which they are listed to people. */
export function changedFacts(old: Facts, now: Facts): readonly AnyFact[] {
  const names = (Object.keys(old) as (keyof Facts)[]).filter((n): n is AnyFact => n !== 'assumed');
  return names.filter((name) => JSON.stringify(old[name]) !== JSON.stringify(now[name]));
}

interface Subject {
  readonly request: Request;
  readonly leaf: RouteShape;
  readonly segments: readonly string[];
  readonly facts: readonly Facts[];
}

type Maker = (subject: Subject) => readonly Request[];

/** Requests that fare otherwise under other values of these facts, if any do. O(segments x facts). */
export function probesFor(
  request: Request,
  leaf: RouteShape,
  facts: readonly Facts[],
  names: readonly AnyFact[],
): readonly Request[] {
  const [path = ''] = request.target.split('?', 1);
  const subject: Subject = { request, leaf, facts, segments: path.slice(1).split('/') };
  const makers = new Set(names.flatMap((name) => MAKERS[name] ?? []));
  const made = [...makers].flatMap((make) => make(subject));
  // A slash, letter case or an empty value may matter together with another, whether or not that changed.
  const spellings = SPELLINGS.filter((name) => facts.some((f) => f[name] !== FACTS[name].values[0]));
  const more = new Set([...spellings, ...names].flatMap((name) => MAKERS[name] ?? []));
  const twice = spellings.length > 0 || names.length > 1 ? made.flatMap((r) => again(r, leaf, facts, more)) : [];
  const all = [...made, ...twice];
  return [...new Map(all.map((r) => [`${r.method} ${r.target} ${JSON.stringify(r.headers)}`, r])).values()];
}

/** Facts by which one path has many spellings. */
const SPELLINGS = ['trailingSlash', 'doubledSlash', 'letterCase', 'emptyValue', 'suffix'] as const;

function again(request: Request, leaf: RouteShape, facts: readonly Facts[], makers: ReadonlySet<Maker>): readonly Request[] {
  const [path = ''] = request.target.split('?', 1);
  const subject: Subject = { request, leaf, facts, segments: path.slice(1).split('/') };
  return [...makers].filter((make) => make !== otherMethods).flatMap((make) => make(subject));
}

/** The same with another path. */
function at({ request }: Subject, segments: readonly string[]): Request {
  const [, query] = request.target.split(/\?(.*)/u);
  return { ...request, target: `/${segments.join('/')}${query === undefined ? '' : `?${query}`}` };
}

function withSegment(subject: Subject, i: number, text: string): Request {
  return at(
    subject,
    subject.segments.map((s, j) => (j === i ? text : s)),
  );
}

/** Where the shape has literal text, and where values stand; behind a tail all are values. */
function places(shape: Shape, segments: readonly string[], kind: 'literal' | 'value'): readonly number[] {
  return segments.flatMap((_, i) => {
    const piece = shape[i];
    const isLiteral = piece !== undefined && literalText(piece) !== undefined;
    return isLiteral === (kind === 'literal') ? [i] : [];
  });
}

const slashes: Maker = (s) => {
  const bare = s.segments.at(-1) === '' && s.segments.length > 1 ? s.segments.slice(0, -1) : s.segments;
  return [at(s, bare), at(s, [...bare, '']), at(s, [...bare, '', ''])];
};

const doubled: Maker = (s) => s.segments.map((_, i) => at(s, [...s.segments.slice(0, i), '', ...s.segments.slice(i)]));

const dots: Maker = (s) =>
  s.segments.flatMap((_, i) => [
    at(s, [...s.segments.slice(0, i), '.', ...s.segments.slice(i)]),
    at(s, [...s.segments.slice(0, i), 'elsewhere', '..', ...s.segments.slice(i)]),
  ]);

const letters: Maker = (s) =>
  s.segments.flatMap((text, i) => {
    const other = text.replaceAll(/%[\da-f]{2}|[a-z]/giu, (c) =>
      c.length > 1 ? c : c === c.toLowerCase() ? c.toUpperCase() : c.toLowerCase(),
    );
    return other === text ? [] : [withSegment(s, i, other)];
  });

const encoded: Maker = (s) =>
  s.segments.flatMap((text, i) => {
    const letter = text.charCodeAt(0);
    const plain = /^[\w-]/u.test(text) ? [withSegment(s, i, `%${letter.toString(16).toUpperCase()}${text.slice(1)}`)] : [];
    return text.includes('%') ? [...plain, withSegment(s, i, text.replaceAll('%', '%25'))] : plain;
  });

const encodedSlashes: Maker = (s) => [
  ...places(s.leaf.shape, s.segments, 'value').map((i) => withSegment(s, i, `${s.segments[i]}%2F${s.segments[i]}`)),
  ...(s.segments.length > 1 ? [at(s, [s.segments.join('%2F')])] : []),
  ...s.segments
    .slice(1)
    .map((_, i) => at(s, [...s.segments.slice(0, i), `${s.segments[i]}%2F${s.segments[i + 1]}`, ...s.segments.slice(i + 2)])),
];

const malformed: Maker = (s) => s.segments.map((text, i) => withSegment(s, i, `${text}%`));

const empty: Maker = (s) => places(s.leaf.shape, s.segments, 'value').map((i) => withSegment(s, i, ''));

const long: Maker = (s) => {
  const lengths = s.facts.map((f) => f.longestValue).filter((n) => Number.isFinite(n));
  return places(s.leaf.shape, s.segments, 'value').flatMap((i) =>
    lengths.flatMap((n) => ['a', '7'].map((c) => withSegment(s, i, c.repeat(n + 1)))),
  );
};

const suffixes: Maker = (s) => {
  const names = new Set(s.facts.flatMap((f) => Object.keys(f.suffixes)));
  const last = s.segments.length - 1;
  return [...names].map((name) => withSegment(s, last, `${s.segments[last]}.${name}`));
};

const values: Maker = (s) =>
  places(s.leaf.shape, s.segments, 'value').flatMap((i) => ['abc', 'a-1', '7.5', '7', 'open'].map((v) => withSegment(s, i, v)));

/** Each parameter of a segment takes what stands between the others, which can be there twice. */
const shared: Maker = (s) =>
  s.leaf.shape.flatMap((piece, i) => {
    if (piece.kind !== 'segment' || piece.parts.length < 2) return [];
    const between = piece.parts.map((p) => (p.kind === 'literal' ? p.text : 'a'));
    const more = piece.parts.map((p) => (p.kind === 'literal' ? `${p.text}a${p.text}` : 'a'));
    return [
      withSegment(s, i, between.join('')),
      withSegment(s, i, more.join('')),
      withSegment(s, i, 'aaa'),
      withSegment(s, i, '777'),
    ];
  });

const otherMethods: Maker = ({ request }) =>
  ['HEAD', 'OPTIONS', 'DELETE', 'PATCH', 'GET', 'POST'].map((method) => ({ ...request, method }));

const media: Maker = ({ request, leaf }) => {
  const { takes = [], returns = [] } = leaf.route.conditions;
  const spelt = (list: readonly string[]): readonly string[] => [
    ...list.flatMap((t) => [t, t.split(';')[0] as string, `${t.split(';')[0]};level=9`]),
    'image/x-none',
  ];
  const { Accept: _, 'Content-Type': __, ...rest } = request.headers;
  return [
    ...spelt(returns).map((Accept) => ({ ...request, headers: { ...rest, Accept } })),
    ...spelt(takes).map((type) => ({ ...request, headers: { ...rest, 'Content-Type': type } })),
  ];
};

const MAKERS: { readonly [N in AnyFact]?: readonly Maker[] } = {
  noMethod: [otherMethods],
  wrongMethod: [otherMethods],
  head: [otherMethods],
  options: [otherMethods],
  trees: [otherMethods, values],
  anyMethod: [otherMethods],
  deadEnds: [values],
  typedBranch: [values],
  types: [values],
  refusal: [values],
  trailingSlash: [slashes],
  doubledSlash: [doubled],
  dotSegments: [dots],
  letterCase: [letters],
  decoding: [encoded],
  patternText: [encoded],
  malformed: [malformed],
  encodedSlash: [encodedSlashes],
  emptyValue: [empty],
  longestValue: [long],
  tooLong: [long],
  split: [shared],
  mixed: [shared],
  suffix: [suffixes],
  suffixes: [suffixes],
  unacceptable: [media],
  unsupported: [media],
  undeclared: [media],
  mediaParameters: [media],
};

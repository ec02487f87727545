/** How routers differ: every fact with its values, the default first, and what it means. */

interface Fact {
  readonly values: readonly string[];
  readonly means: string;
}

/** In the order in which they are listed to people. */
export const FACTS = {
  precedence: {
    values: ['first-declared', 'last-declared', 'most-specific', 'exclusive'],
    means: 'who wins where two routes match the same request',
  },
  specificity: {
    values: ['left-to-right', 'literal-length', 'fewest-parameters', 'containment'],
    means: 'what makes a route more specific, under precedence most-specific',
  },
  ties: {
    values: ['ambiguous', 'first-declared', 'last-declared'],
    means: 'what happens when two routes are equally specific',
  },
  deadEnds: {
    values: ['retry', 'give-up', 'last-tail'],
    means: 'does a router that went down the literal branch come back to try the parameter, or only to the last tail it passed?',
  },
  trees: {
    values: ['one', 'per-method'],
    means: 'do routes of other methods count when a place in the tree is settled?',
  },
  typedBranch: {
    values: ['own', 'shared'],
    means: 'do typed and plain parameters at one place have a branch each, or share one?',
  },
  tails: { values: ['declared', 'narrowest'], means: 'which of two tails at one place goes first' },
  mixed: {
    values: ['leading', 'most-parts'],
    means: 'which of two segments of text and parameters is more specific: the longer leading text, or the more parts',
  },
  anyMethod: {
    values: ['in-order', 'last'],
    means: 'is a route for any method tried behind all that name the method?',
  },
  wrongMethod: {
    values: ['next-route', 'refuse'],
    means: 'when the path fits but the method is not supported: look further, or answer at once?',
  },
  noMethod: { values: ['405', '404'], means: 'what is answered when only the method fails' },
  head: {
    values: ['follows-get', 'is-get', 'declared', 'before-get'],
    means: 'does a GET route answer HEAD too, and is it asked behind all HEAD routes?',
  },
  options: {
    values: ['answered', 'declared', 'by-group'],
    means: 'does the router answer OPTIONS by itself, at its end or at the end of each group?',
  },
  types: {
    values: ['in-match', 'after-match'],
    means: 'is a written parameter type part of the match, or a refusal by the handler afterwards?',
  },
  refusal: { values: ['400', '404', '422', '500'], means: 'what is answered when the handler refuses a value' },
  trailingSlash: {
    values: ['exact', 'either', 'may-add', 'removed', 'ignored', 'either-last'],
    means: 'is /locks/ the same as /locks?',
  },
  doubledSlash: { values: ['exact', 'one'], means: 'is // the same as /?' },
  dotSegments: { values: ['kept', 'resolved'], means: 'are . and .. resolved before matching?' },
  letterCase: { values: ['exact', 'either'], means: 'is /Locks the same as /locks?' },
  decoding: { values: ['before-match', 'values-only'], means: 'are literals compared with decoded text?' },
  patternText: {
    values: ['decoded', 'as-written'],
    means: 'is literal text of a pattern with %20 in it decoded before it is compared?',
  },
  malformed: { values: ['400', '404', 'kept'], means: 'what is done with malformed percent-encoding' },
  encodedSlash: { values: ['value', 'separator', 'refused'], means: 'what %2F in a path is' },
  emptyValue: { values: ['refused', 'accepted'], means: 'may a parameter be empty?' },
  tooLong: {
    values: ['404', '414'],
    means: 'what is answered when nothing matches but a route with a value longer than longestValue',
  },
  split: { values: ['shortest', 'longest'], means: 'how two parameters in one segment share its text' },
  prefix: { values: ['segment', 'text'], means: "how a group's prefix is compared" },
  groupRoot: {
    values: ['prefix', 'slash', 'both'],
    means: 'what / inside a group is: the prefix, the prefix with a slash, or both',
  },
  unmatched: { values: ['continue', 'end'], means: 'does a group that fits the prefix and has no route end the search?' },
  suffix: { values: ['none', 'optional'], means: 'does the router take .json off the end of a path?' },
  duplicates: { values: ['accepted', 'refused'], means: 'does the service start with two equal routes?' },
  sameShape: {
    values: ['accepted', 'refused', 'refused-per-method'],
    means: 'does the service start with two patterns that differ in parameter names alone?',
  },
  unacceptable: { values: ['refuse', 'send-default'], means: 'is 406 answered when nothing fits Accept?' },
  unsupported: { values: ['refuse', 'read-anyway'], means: 'is 415 answered when Content-Type does not fit?' },
  undeclared: { values: ['anything', 'unknown'], means: 'what a route without declared media types takes and returns' },
  mediaParameters: { values: ['must-match', 'ignored'], means: 'do parameters of a media type count?' },
} as const satisfies Readonly<Record<string, Fact>>;

export type FactName = keyof typeof FACTS;
export const FACT_NAMES = Object.keys(FACTS) as readonly FactName[];
export type FactValue<N extends FactName> = (typeof FACTS)[N]['values'][number];

/** What a table says of its router; what it leaves out is assumed. `unknown` is said of a fact that nobody looked up. */
export const KINDS = ['ordered', 'tree', 'exclusive'] as const;
export type Kind = (typeof KINDS)[number];

/** The usual facts of a family of routers; single facts override them. */
const OF_KIND: Readonly<Record<Kind, { readonly [N in FactName]?: FactValue<N> }>> = {
  ordered: { precedence: 'first-declared', wrongMethod: 'next-route' },
  tree: {
    precedence: 'most-specific',
    specificity: 'left-to-right',
    ties: 'first-declared',
    trees: 'per-method',
    duplicates: 'refused',
  },
  exclusive: { precedence: 'exclusive', duplicates: 'refused', sameShape: 'refused' },
};

export type RouterSettings = { readonly [N in FactName]?: FactValue<N> | 'unknown' } & {
  readonly kind?: Kind;
  readonly longestValue?: number;
  readonly suffixes?: Readonly<Record<string, string>>;
};

/** A verdict that would be another if the router behaved otherwise. */
export interface RestsOn {
  readonly fact: FactName | 'longestValue' | 'suffixes';
  readonly value: string;
  readonly assumed: boolean;
}

export type Facts = { readonly [N in FactName]: FactValue<N> | 'unknown' } & {
  readonly longestValue: number;
  readonly suffixes: Readonly<Record<string, string>>;
  readonly assumed: ReadonlySet<string>;
};

/** The facts with their defaults filled in and remembered as assumed. */
export function factsFrom(settings: RouterSettings): Facts {
  const values: Record<string, string> = {};
  const assumed = new Set<string>();
  for (const name of FACT_NAMES) {
    const given = settings[name] ?? (settings.kind === undefined ? undefined : OF_KIND[settings.kind][name]);
    values[name] = given ?? FACTS[name].values[0];
    if (given === undefined) assumed.add(name);
  }
  return {
    ...(values as { [N in FactName]: FactValue<N> }),
    longestValue: settings.longestValue ?? Number.POSITIVE_INFINITY,
    suffixes: settings.suffixes ?? { json: 'application/json' },
    assumed,
  };
}

export function restsOn(facts: Facts, ...names: readonly FactName[]): readonly RestsOn[] {
  return names.map((fact) => ({ fact, value: facts[fact], assumed: facts.assumed.has(fact) }));
}

/** The facts that decide who goes first, as far as they matter for this router. */
export function orderFacts(facts: Facts): readonly RestsOn[] {
  const names: FactName[] = ['precedence'];
  if (facts.precedence === 'most-specific') names.push('specificity', 'ties');
  if (isOneWayBy(facts)) names.push('deadEnds');
  if (isTree(facts) && facts.trees === 'per-method') names.push('trees');
  if (facts.anyMethod === 'last') names.push('anyMethod');
  if (facts.wrongMethod === 'refuse') names.push('wrongMethod');
  return restsOn(facts, ...names);
}

/** Is each place settled before the next is looked at? */
export function isTree(facts: Facts): boolean {
  return facts.precedence === 'most-specific' && facts.specificity === 'left-to-right';
}

/** Does the router take the best branch at each segment, and never another one but perhaps a tail? */
export function isOneWayBy(facts: Facts): boolean {
  return isTree(facts) && (facts.deadEnds === 'give-up' || facts.deadEnds === 'last-tail');
}

/** Do parameters of a media type count? They do unless somebody said otherwise. */
export function countsParameters(facts: Facts | undefined): boolean {
  return facts?.mediaParameters !== 'ignored';
}

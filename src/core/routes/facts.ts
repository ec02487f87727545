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
  ties: { values: ['ambiguous', 'first-declared'], means: 'what happens when two routes are equally specific' },
  deadEnds: {
    values: ['retry', 'give-up'],
    means: 'does a router that went down the literal branch come back to try the parameter?',
  },
  wrongMethod: {
    values: ['next-route', 'refuse'],
    means: 'when the path fits and the method does not: look further, or answer at once?',
  },
  noMethod: { values: ['405', '404'], means: 'what is answered when only the method fails' },
  head: { values: ['follows-get', 'is-get', 'declared'], means: 'does a GET route answer HEAD too?' },
  options: { values: ['answered', 'declared'], means: 'does the router answer OPTIONS by itself?' },
  types: {
    values: ['in-match', 'after-match'],
    means: 'is a written parameter type part of the match, or a refusal by the handler afterwards?',
  },
  refusal: { values: ['400', '404', '422', '500'], means: 'what is answered when the handler refuses a value' },
  trailingSlash: { values: ['exact', 'either', 'may-add', 'removed'], means: 'is /locks/ the same as /locks?' },
  doubledSlash: { values: ['exact', 'one'], means: 'is // the same as /?' },
  dotSegments: { values: ['kept', 'resolved'], means: 'are . and .. resolved before matching?' },
  letterCase: { values: ['exact', 'either'], means: 'is /Locks the same as /locks?' },
  decoding: { values: ['before-match', 'values-only'], means: 'are literals compared with decoded text?' },
  encodedSlash: { values: ['value', 'separator', 'refused'], means: 'what %2F in a path is' },
  emptyValue: { values: ['refused', 'accepted'], means: 'may a parameter be empty?' },
  split: { values: ['shortest', 'longest'], means: 'how two parameters in one segment share its text' },
  prefix: { values: ['segment', 'text'], means: "how a group's prefix is compared" },
  unmatched: { values: ['continue', 'end'], means: 'does a group that fits the prefix and has no route end the search?' },
  suffix: { values: ['none', 'optional'], means: 'does the router take .json off the end of a path?' },
  duplicates: { values: ['accepted', 'refused'], means: 'does the service start with two equal routes?' },
  sameShape: {
    values: ['accepted', 'refused'],
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
export type RouterSettings = { readonly [N in FactName]?: FactValue<N> | 'unknown' } & {
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
    const given = settings[name];
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
  if (facts.precedence === 'most-specific' && facts.deadEnds === 'give-up') names.push('deadEnds');
  if (facts.wrongMethod === 'refuse') names.push('wrongMethod');
  return restsOn(facts, ...names);
}

/** Do parameters of a media type count? They do unless somebody said otherwise. */
export function countsParameters(facts: Facts | undefined): boolean {
  return facts?.mediaParameters !== 'ignored';
}

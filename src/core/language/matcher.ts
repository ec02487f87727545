/**
 * Regular expressions (ECMA-262, 22.2) matched against one text, step by step, with a limit on the steps: no expression that
 * somebody else wrote is ever run by the engine of the language, which may not come back. Used where an automaton does not
 * answer: for what groups capture, and for backreferences and look-around.
 */
import type { AST } from '@eslint-community/regexpp';
import { type CharSet, setHas } from './charset.ts';
import { parseTree, type RegexFlags, setOf } from './regex.ts';

/** So many steps leave it undecided. */
export const MOST_STEPS = 200_000;

/** What a group took; undefined where it took no part. */
export interface Group {
  /** As it is named, or by its number from 0. */
  readonly name: string;
  readonly text: string | undefined;
}

export interface MatchOptions extends RegexFlags {
  /** It may match anywhere, not from the start on alone. */
  readonly anywhere?: boolean;
}

class TooManySteps extends Error {}

/**
 * The groups of the first match; null where there is none, undefined where the expression can't be read or where it would take
 * more than `MOST_STEPS`. Named groups are by their names, and then the others are left out.
 */
export function match(source: string, text: string, options: MatchOptions = {}): readonly Group[] | null | undefined {
  try {
    const tree = parseTree(source);
    return new Matcher(tree, text, options).run();
  } catch {
    // It can't be read, or it is too much work or too deep.
    return undefined;
  }
}

/** One match: its groups, and where it starts and ends in characters (code points) of the text. */
export interface Match {
  readonly groups: readonly Group[];
  readonly start: number;
  readonly end: number;
}

/**
 * Every match of an expression in a text, one behind the other; undefined where the expression can't be read or where more than
 * `steps` would be needed. O(steps).
 */
export function matchesIn(source: string, text: string, steps: number, options: RegexFlags = {}): readonly Match[] | undefined {
  try {
    return new Matcher(parseTree(source), text, { ...options, anywhere: true }, steps).all();
  } catch {
    return undefined;
  }
}

type Then = (at: number) => boolean;

class Matcher {
  private readonly codes: readonly number[];
  private readonly sets = new Map<AST.Element, CharSet>();
  private readonly groups: readonly AST.CapturingGroup[];
  private readonly taken: ([number, number] | undefined)[];
  private readonly tree: AST.Pattern;
  private readonly options: MatchOptions;
  private readonly most: number;
  private steps = 0;

  constructor(tree: AST.Pattern, text: string, options: MatchOptions, most = MOST_STEPS) {
    this.most = most;
    this.tree = tree;
    this.options = options;
    this.codes = [...text].map((c) => c.codePointAt(0) as number);
    this.groups = groupsIn(tree.alternatives);
    this.taken = this.groups.map(() => undefined);
  }

  run(): readonly Group[] | null {
    const last = this.options.anywhere === true ? this.codes.length : 0;
    for (let from = 0; from <= last; from++) {
      this.taken.fill(undefined);
      if (this.any(this.tree.alternatives, from, () => true)) return this.captured();
    }
    return null;
  }

  all(): readonly Match[] {
    const found: Match[] = [];
    for (let from = 0; from <= this.codes.length; ) {
      this.taken.fill(undefined);
      let end = from;
      const isHit = this.any(this.tree.alternatives, from, (at) => {
        end = at;
        return true;
      });
      if (isHit) found.push({ groups: this.captured(), start: from, end });
      // An empty match goes on behind the next character.
      from = isHit && end > from ? end : from + 1;
    }
    return found;
  }

  private captured(): readonly Group[] {
    const isNamed = this.groups.some((g) => g.name !== null);
    return this.groups.flatMap((g, i): readonly Group[] => {
      if (isNamed && g.name === null) return [];
      const range = this.taken[i];
      const text = range === undefined ? undefined : this.text(...range);
      return [{ name: g.name ?? String(i), text }];
    });
  }

  private text(from: number, to: number): string {
    return this.codes
      .slice(from, to)
      .map((c) => String.fromCodePoint(c))
      .join('');
  }

  private step(): void {
    this.steps += 1;
    if (this.steps > this.most) throw new TooManySteps();
  }

  private any(alternatives: readonly AST.Alternative[], at: number, then: Then): boolean {
    return alternatives.some((a) => this.inTurn(a.elements, 0, at, then));
  }

  private inTurn(elements: readonly AST.Element[], i: number, at: number, then: Then): boolean {
    this.step();
    const element = elements[i];
    return element === undefined ? then(at) : this.one(element, at, (next) => this.inTurn(elements, i + 1, next, then));
  }

  private one(element: AST.Element, at: number, then: Then): boolean {
    switch (element.type) {
      case 'Group':
        return this.any(element.alternatives, at, then);
      case 'CapturingGroup':
        return this.group(element, at, then);
      case 'Quantifier':
        return isCharacter(element.element) ? this.run1(element, at, then) : this.again(element, 0, at, then);
      case 'Assertion':
        return this.holds(element, at) && then(at);
      case 'Backreference':
        return this.back(element, at, then);
      default:
        return this.takes(element, at) && then(at + 1);
    }
  }

  private takes(element: AST.Element, at: number): boolean {
    const code = this.codes[at];
    if (code === undefined) return false;
    const known = this.sets.get(element) ?? setOf(element as AST.CharacterClass, this.options);
    this.sets.set(element, known);
    return setHas(known, code);
  }

  private group(element: AST.CapturingGroup, at: number, then: Then): boolean {
    const index = this.groups.indexOf(element);
    return this.any(element.alternatives, at, (end) => {
      const before = this.taken[index];
      this.taken[index] = [at, end];
      if (then(end)) return true;
      this.taken[index] = before;
      return false;
    });
  }

  /** One character, many times: without going deeper for each. */
  private run1({ element, min, max, greedy }: AST.Quantifier, at: number, then: Then): boolean {
    let most = 0;
    while (most < max && this.takes(element as AST.Element, at + most)) {
      this.step();
      most += 1;
    }
    if (most < min) return false;
    for (let n = 0; n <= most - min; n++) {
      this.step();
      if (then(at + (greedy ? most - n : min + n))) return true;
    }
    return false;
  }

  private again(quantifier: AST.Quantifier, count: number, at: number, then: Then): boolean {
    this.step();
    const { element, min, max, greedy } = quantifier;
    const more = (): boolean => {
      if (count >= max) return false;
      // What a group took in the turn before is forgotten (22.2.2.3.1).
      const inner = groupsIn([{ elements: [element] } as unknown as AST.Alternative]).map((g) => this.groups.indexOf(g));
      const before = inner.map((i) => this.taken[i]);
      for (const i of inner) this.taken[i] = undefined;
      // A turn that takes nothing ends it.
      const found = this.one(
        element as AST.Element,
        at,
        (next) => (next > at || count < min) && this.again(quantifier, count + 1, next, then),
      );
      if (!found) for (const [n, i] of inner.entries()) this.taken[i] = before[n];
      return found;
    };
    if (count < min) return more();
    return greedy ? more() || then(at) : then(at) || more();
  }

  private holds(assertion: AST.Assertion, at: number): boolean {
    switch (assertion.kind) {
      case 'start':
        return at === 0;
      case 'end':
        return at === this.codes.length;
      case 'word':
        return (this.isWord(at - 1) !== this.isWord(at)) !== assertion.negate;
      case 'lookahead':
        return this.any(assertion.alternatives, at, () => true) !== assertion.negate;
      default: {
        const starts = Array.from({ length: at + 1 }, (_, i) => at - i);
        return starts.some((from) => this.any(assertion.alternatives, from, (end) => end === at)) !== assertion.negate;
      }
    }
  }

  private isWord(at: number): boolean {
    const code = this.codes[at];
    return code !== undefined && /^\w$/u.test(String.fromCodePoint(code));
  }

  private back({ resolved }: AST.Backreference, at: number, then: Then): boolean {
    const [group] = [resolved].flat();
    const range = group === undefined ? undefined : this.taken[this.groups.indexOf(group)];
    // A group that took nothing is matched by nothing.
    if (range === undefined) return then(at);
    const [from, to] = range;
    const fold = (text: string): string => (this.options.ignoreCase === true ? text.toLowerCase() : text);
    const end = at + to - from;
    return end <= this.codes.length && fold(this.text(from, to)) === fold(this.text(at, end)) && then(end);
  }
}

function isCharacter({ type }: AST.Element): boolean {
  return type === 'Character' || type === 'CharacterSet' || type === 'CharacterClass';
}

/** In the order of their opening brackets. */
function groupsIn(alternatives: readonly AST.Alternative[]): readonly AST.CapturingGroup[] {
  return alternatives.flatMap((a) => a.elements.flatMap(groupsOf));
}

function groupsOf(element: AST.Element): readonly AST.CapturingGroup[] {
  switch (element.type) {
    case 'CapturingGroup':
      return [element, ...groupsIn(element.alternatives)];
    case 'Group':
      return groupsIn(element.alternatives);
    case 'Quantifier':
      return groupsOf(element.element as AST.Element);
    case 'Assertion':
      return element.kind === 'lookahead' || element.kind === 'lookbehind' ? groupsIn(element.alternatives) : [];
    default:
      return [];
  }
}

import { type PathSlot, slotsByPosition } from '../../contract/pairing/path-slots.ts';
import { type Language, relation } from '../../language/language.ts';
import { decide } from '../../language/limits.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const inconsistent: Rule = {
  id: 'types/inconsistent',
  level: 'warning',
  messages: {
    position: 'behind {shown} stands {name}, {first} in one route and {second} in another',
    name: '{name} is {first} in one path and {second} in another',
  },
  advice: {
    one: 'Give it one type wherever it stands; a value that one route hands out has to be good for the other.',
  },
  meta: {
    what: 'One parameter with two types: at one position of sibling paths, or under one name across the API.',
    why: 'An id that was read in one place is refused in the next, though it is the same lock.',
    example: '- GET /locks/{lockId:int} -> locks.read\n- GET /locks/{lockId:slug}/gates -> gates.list',
    fix: 'Decide for one type; name it under types: so that it can be used everywhere.',
  },
  check: (context) => context.slots().flatMap(inconsistencies),
};

/** Positions first; a name is spoken of only where no position of it was. */
function inconsistencies(slots: readonly PathSlot[]): readonly Found[] {
  const told = new Set<string>();
  const found: Found[] = [];
  for (const group of slotsByPosition(slots)) {
    if (dispatches(group)) continue;
    const pair = differing(group);
    if (pair === undefined) continue;
    for (const slot of group) told.add(slot.name);
    found.push(finding('position', pair));
  }
  // A new version may have new types.
  const names = new Map<string, PathSlot[]>();
  for (const slot of slots) {
    const key = `${slot.version} ${slot.name}`;
    const known = names.get(key);
    if (known === undefined) names.set(key, [slot]);
    else known.push(slot);
  }
  for (const group of names.values()) {
    const name = group[0]?.name ?? '';
    // Everything has an id, and each kind of thing its own kind of id.
    if (told.has(name) || GENERAL.test(name)) continue;
    const pair = differing(group);
    if (pair !== undefined) found.push(finding('name', pair));
  }
  return found;
}

const GENERAL = /^(?:id|key|name|slug|code|format|type|uuid|page|version)$/iu;

/** Two patterns for one path that their types tell apart: that is meant. */
function dispatches(group: readonly PathSlot[]): boolean {
  const first = new Map<string, PathSlot>();
  for (const slot of group) {
    if (slot.language === undefined) continue;
    const other = first.get(slot.path);
    if (other === undefined) first.set(slot.path, slot);
    else if (other.language !== slot.language && other.what !== slot.what) return true;
  }
  return false;
}

function differing(group: readonly PathSlot[]): readonly [PathSlot, PathSlot] | undefined {
  const [first, ...rest] = group.filter((s) => s.language !== undefined);
  const other = rest.find((s) => s.language !== first?.language);
  return first === undefined || other === undefined ? undefined : [first, other];
}

/** One is the other with more said of it, or both are lists of words: what is good for one is at least read by the other. */
function isMild(a: PathSlot, b: PathSlot): boolean {
  const isNumber = (s: PathSlot): boolean => /^(?:u?int|number)/u.test(s.type);
  if (isNumber(a) !== isNumber(b)) return false;
  if (a.type.startsWith('one of') && b.type.startsWith('one of')) return true;
  const found = decide(() => relation(a.language as Language, b.language as Language));
  return found.decided && (found.value === 'subset' || found.value === 'superset');
}

function finding(message: string, [a, b]: readonly [PathSlot, PathSlot]): Found {
  return {
    ...(isMild(a, b) ? { level: 'note' as const } : {}),
    message,
    advice: 'one',
    data: { shown: a.shown, name: a.name, first: a.type, second: b.type },
    at: { place: a.place, what: a.what },
    related: [{ role: 'the other', place: b.place, what: b.what }],
  };
}

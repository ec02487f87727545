import fc from 'fast-check';
import { expect, test } from 'vitest';
import { brief } from '../../../src/core/base/excerpt.ts';
import { pointerKeys } from '../../../src/core/base/place.ts';
import { isShortened, markedJson } from '../../../src/views/marked-json.ts';

const json = fc.jsonValue({ maxDepth: 4 });
const same = (text: string): string => text;

/** A value, and a way to something in it. */
const placed = json.chain((value) => {
  const ways: string[][] = [[]];
  for (const way of ways) {
    const at = way.reduce<unknown>((v, k) => (v as Record<string, unknown>)[k], value);
    if (typeof at === 'object' && at !== null && ways.length < 200) for (const key of Object.keys(at)) ways.push([...way, key]);
  }
  return fc.tuple(fc.constant(value), fc.constantFrom(...ways));
});

test('a value that fits is told whole, with the part marked and nothing else', () => {
  fc.assert(
    fc.property(placed, fc.boolean(), ([value, keys], wraps) => {
      const marks: string[] = [];
      const mark = (text: string): string => {
        marks.push(text);
        return `<<${text}>>`;
      };
      const text = markedJson(value, keys, { plain: same, mark, line: wraps ? 0 : Infinity, room: Infinity });
      const part = keys.reduce<unknown>((v, k) => (v as Record<string, unknown>)[k], value);
      expect(marks.map((m) => JSON.parse(m))).toEqual([JSON.parse(JSON.stringify(part))]);
      expect(JSON.parse(text.replace(`<<${marks[0]}>>`, () => marks[0] as string))).toEqual(JSON.parse(JSON.stringify(value)));
    }),
  );
});

test('a value that does not fit is shortened to the way to the part', () => {
  fc.assert(
    fc.property(placed, ([value, keys]) => {
      const room = 60;
      const text = markedJson(value, keys, { plain: same, mark: (t) => `<<${t}>>`, line: 30, room });
      if (!isShortened(value, room)) return;
      expect(text).toContain('<<');
      for (const key of keys) if (Number.isNaN(Number(key))) expect(text).toContain(JSON.stringify(key));
      // The way, and half of the room for the part.
      const way = keys.reduce((n, key) => n + JSON.stringify(key).length + 14, 0);
      expect(text.length).toBeLessThanOrEqual(way + room + 140);
    }),
  );
});

test('a text that no line takes is cut, and its length told', () => {
  const text = markedJson({ name: 'x'.repeat(300), id: 7 }, ['name'], {
    plain: same,
    mark: (t) => `<<${t}>>`,
    line: 80,
    room: 600,
  });
  expect(text).toMatch(/^\{"name": <<"x{50,60}…" \(300 characters\)>>, …\}$/u);
});

test('brief', () => {
  expect(brief({ lockId: 7 }, 20)).toBe('{"lockId":7}');
  expect(brief({ lockId: 7, gates: [{ a: 1 }], name: 'elm', state: 'open' }, 40)).toBe('{"lockId": 7, "gates": […], … 2 more}');
  expect(
    brief(
      Array.from({ length: 1001 }, () => ({ a: 1 })),
      80,
    ),
  ).toBe('[{…}, … 1000 more]');
  expect(brief('x'.repeat(100), 80)).toMatch(/^"x{50,60}…"$/u);
  expect(brief('x'.repeat(5001), 80)).toMatch(/^"x{50,60}…" \(5001 characters\)$/u);
  expect(brief([1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13], 25)).toBe('[1, 2, 3, 4, 5, … 8 more]');
  expect(pointerKeys('/a~1b/0')).toEqual(['a/b', '0']);
});

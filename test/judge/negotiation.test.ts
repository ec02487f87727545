/** Media types against another negotiator, on generated headers. */
import fc from 'fast-check';
import Negotiator from 'negotiator';
import { expect, test } from 'vitest';
import { chooseType, hidesMedia, qualityOf, sameMedia, takesType } from '../../src/core/media/media.ts';
import { parseRanges } from '../../src/core/media/ranges.ts';
import { acceptFor } from '../../src/core/media/select.ts';
import { runs } from '../runs.ts';

const RUNS = runs(3_000);

const type = fc.constantFrom('application', 'text', 'image');
const subtype = fc.constantFrom('json', 'xml', 'csv', 'vnd.canal.lock+json', 'problem+json', 'png');
const parameter = fc.tuple(fc.constantFrom('version', 'level', 'header'), fc.constantFrom('1', '2', '"1"', 'present'));
const parameters = fc.array(parameter, { maxLength: 2 }).map((list) => [...new Map(list)].map(([n, v]) => `;${n}=${v}`).join(''));
const offered = fc.tuple(type, subtype, parameters).map(([t, s, p]) => `${t}/${s}${p}`);
const range = fc
  .tuple(
    fc.oneof(
      fc.constant('*/*'),
      type.map((t) => `${t}/*`),
      fc.tuple(type, subtype).map((p) => p.join('/')),
    ),
    // One at most: of two ranges the one with more parameters is more precise (RFC 9110, 12.5.1), which they don't count.
    fc.option(parameter).map((p) => (p === null ? '' : `;${p.join('=')}`)),
    fc.option(fc.constantFrom('0', '0.1', '0.5', '0.999', '1', '1.0'), { nil: undefined }),
  )
  .map(([name, p, q]) => `${name}${p}${q === undefined ? '' : `;q=${q}`}`);
const accept = fc.array(range, { minLength: 1, maxLength: 4 }).map((list) => list.join(', '));

test('the same types are acceptable, and what is chosen has the highest quality', () => {
  fc.assert(
    fc.property(accept, fc.array(offered, { minLength: 1, maxLength: 4 }), (header, types) => {
      const theirs = new Negotiator({ headers: { accept: header } }).mediaTypes(types);
      const ranges = parseRanges(header);
      expect([...types].filter((t) => qualityOf(ranges, t) > 0).sort()).toEqual([...theirs].sort());
      const chosen = chooseType(header, types);
      expect(chosen === undefined).toBe(theirs.length === 0);
      if (chosen === undefined) return;
      // Among equals they go by the order of the header; the standard leaves it to the server, which goes by its own.
      expect(qualityOf(ranges, chosen)).toBe(qualityOf(ranges, theirs[0] as string));
      expect(types.indexOf(chosen)).toBe(types.findIndex((t) => qualityOf(ranges, t) === qualityOf(ranges, chosen)));
    }),
    { numRuns: RUNS },
  );
});

const profiles = fc.subarray(['a', 'b', 'c'], { minLength: 1 }).map((list) => `application/json;profile="${list.join(' ')}"`);
const offers = fc.uniqueArray(
  fc.oneof(offered, profiles, fc.constantFrom('application/json', 'text/*', '*/*', 'application/json;version=1;level=2')),
  { minLength: 2, maxLength: 4 },
);

test('a header is found for each type that some header selects, and for no other', () => {
  fc.assert(
    fc.property(offers, fc.boolean(), fc.infiniteStream(fc.nat()), (types, useParameters, numbers) => {
      const draw = (n: number): number => (numbers.next().value as number) % n;
      // Whatever names one of them: all and some of its parameters, wildcards, with any quality.
      const names = types.flatMap((t) => {
        const [name = '', ...more] = t.split(';');
        return [t, name, ...more.map((p) => `${name};${p}`), `${name.split('/')[0]}/*`, ...profilesOf(t), '*/*', 'text/x-other'];
      });
      const headers = Array.from({ length: 40 }, () =>
        Array.from({ length: 1 + draw(4) }, () => `${names[draw(names.length)]};q=${[0, 0.5, 1][draw(3)]}`).join(', '),
      );
      types.forEach((own, i) => {
        const found = acceptFor(types, i, useParameters);
        if (found !== undefined) expect(chooseType(found, types, useParameters)).toBe(own);
        else expect(headers.filter((h) => chooseType(h, types, useParameters) === own)).toEqual([]);
        if (types.slice(0, i).some((t) => hidesMedia(t, own))) expect(found).toBeUndefined();
      });
    }),
    { numRuns: Math.floor(RUNS / 4) },
  );
});

function profilesOf(type: string): readonly string[] {
  const [, list] = /profile="([^"]*)"/u.exec(type) ?? [];
  return list === undefined ? [] : list.split(' ').map((uri) => `application/json;profile=${uri}`);
}

test('what one type alone does not hide, several may', () => {
  expect(acceptFor(['a/b;profile="x y"', 'a/b;profile=x'], 1)).toBe('a/b, a/b;profile="x y";q=0');
  expect(acceptFor(['a/b', 'a/b;version=2'], 1)).toBe('a/b;version=2');
  expect(acceptFor(['a/b', 'a/b;version=2'], 1, false)).toBeUndefined();
  expect(acceptFor(['a/b;profile="x y"', 'a/b', 'a/b;profile=x'], 2)).toBe('a/*;profile=x, a/b;profile="x y";q=0');
  expect(acceptFor(['a/b;profile="x y"', 'a/b'], 1)).toBe('a/b, a/b;profile="x y";q=0');
});

test.each([
  // RFC 9110, 12.5.1, the example of that section.
  [
    'text/*;q=0.3, text/plain;q=0.7, text/plain;format=flowed, text/plain;format=fixed;q=0.4, */*;q=0.5',
    'text/plain;format=flowed',
    1,
  ],
  ['text/*;q=0.3, text/plain;q=0.7, text/plain;format=flowed, text/plain;format=fixed;q=0.4, */*;q=0.5', 'text/html', 0.3],
  ['text/*;q=0.3, text/plain;q=0.7, text/plain;format=flowed, text/plain;format=fixed;q=0.4, */*;q=0.5', 'image/jpeg', 0.5],
  // A charset selects nothing.
  ['application/json; charset=utf-8', 'application/json', 1],
  ['application/ld+json;profile="a b"', 'application/ld+json;profile="b c a"', 1],
  ['application/ld+json;profile="a b"', 'application/ld+json;profile="a"', 0],
  ['application/ld+json;profile="a"', 'application/ld+json', 0],
  ['application/json', 'application/problem+json', 0],
  ['image/png', 'image/*', 1],
  ['application/json, */*;q=0', 'text/csv', 0],
  ['a/b;x=1;q=0.9, a/b;x=1;y=2;q=0.1', 'a/b;y=2;x=1', 0.1],
])('Accept: %s gives %s the quality %d', (header, type, quality) => {
  expect(qualityOf(parseRanges(header), type)).toBe(quality);
});

test('bodies are handled by type, and what is one type is one', () => {
  expect(takesType(['multipart/form-data'], 'multipart/form-data; boundary=x')).toBe(true);
  expect(takesType(['application/json;version=2'], 'application/json')).toBe(false);
  expect(takesType(['application/*'], 'application/cbor')).toBe(true);
  expect(sameMedia('application/json;version=2; Charset=utf-8', 'Application/JSON; version="2"')).toBe(true);
});

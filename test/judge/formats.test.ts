import Ajv2020 from 'ajv/dist/2020.js';
import addFormats from 'ajv-formats';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { example } from '../../src/core/language/example.ts';
import { accepts, type Language } from '../../src/core/language/language.ts';
import { FORMAT_EXAMPLES, formatLanguage } from '../../src/core/schema/vocabulary/formats.ts';
import { runs } from '../runs.ts';

const RUNS = runs(1_200);
const ajv = addFormats.default(new Ajv2020.default({ strict: false, logger: false })) as InstanceType<typeof Ajv2020.default>;

/** Good texts, and letters that come in them: what is changed by one letter or two is good or nearly so. */
const TEXTS: Readonly<Record<string, readonly [letters: string, ...texts: string[]]>> = {
  date: ['0123456789-', '2027-03-14', '2028-02-29', '2027-02-28', '1900-02-28', '2000-02-29', '2027-12-31', '2027-04-30'],
  time: ['0123456789:.Z+-', '09:30:00Z', '23:59:59+01:00', '00:00:00.125-23:59', '23:59:60Z'],
  'date-time': ['0123456789:.ZTt+-', '2027-03-14T09:30:00Z', '2028-02-29t23:59:59.5+01:00'],
  duration: ['0123456789PTYMWDHS', 'PT45M', 'P1Y2M3DT4H5M6S', 'P3W', 'P1D', 'PT1H', 'P1M'],
  uuid: ['0123456789abcdefABCDEFg-', '3f2b8c1e-5a4d-4e6f-9b7a-0c1d2e3f4a5b'],
  email: ['ab1@.-_+ ', 'keeper@tarn.example', 'a.b+c@x-y.example'],
  hostname: ['aB1.-_', 'tarn.example', 'a', 'x-1.y-2.example', `${'a'.repeat(63)}.b`],
  ipv4: ['0123456789.', '127.0.0.1', '255.255.255.255', '10.0.0.9'],
  ipv6: [
    '0123456789abcdef:.',
    '::1',
    '2001:db8::8a2e:370:7334',
    '1:2:3:4:5:6:7:8',
    '::ffff:10.0.0.1',
    '1::',
    '1:2:3:4:5:6:1.2.3.4',
    '::',
  ],
  'uri-reference': ['ab1:/?#[]@%20.', '/locks/7?a=b#c', '//tarn.example/a', 'a/b', '#c', '', '?a', 'https://tarn.example/locks'],
  uri: ['ab1:/?#[]@%20.', 'https://tarn.example/locks/7?a=b#c', 'mailto:a@b.example', 'urn:canal:7', 'http://[::1]:80/a%20b'],
};

/**
 * Where the other validator and the standards part: RFC 3339 has a colon in an offset, no hour 24, and a second 60 in one
 * minute of a day alone (which would take thousands of states); RFC 3986 has an empty path, and one @ at most, no colon without a port,
 * nor in a first segment without a scheme, nor a host after one slash; addresses in brackets are not looked at closely.
 */
const URI = /@[^/?#]*@|^[a-z][a-z0-9+.-]*:(?:[?#].*)?$|[[\]]|\/\/(?:[^/?#]*@)?[^/?#@]*:[^/?#@]*[^\d/?#@]/iu;
const DOUBTFUL: Readonly<Record<string, RegExp>> = {
  time: /:60|[+-]\d\d(?:\d\d)?$|^24/u,
  'date-time': /:60|[+-]\d\d(?:\d\d)?$|[tT ]24/u,
  uri: URI,
  'uri-reference': new RegExp(`^(?![a-z][a-z0-9+.-]*:)[^/?#]*:|${URI.source}`, 'iu'),
};

const changed = (letters: string, texts: readonly string[]): fc.Arbitrary<string> =>
  fc
    .tuple(
      fc.constantFrom(...texts),
      fc.array(fc.tuple(fc.nat(60), fc.constantFrom('put', 'cut', 'swap'), fc.constantFrom(...letters)), { maxLength: 2 }),
    )
    .map(([text, edits]) =>
      edits.reduce((t, [at, kind, letter]) => {
        const i = at % (t.length + 1);
        if (kind === 'cut') return t.slice(0, i) + t.slice(i + 1);
        return t.slice(0, i) + letter + t.slice(kind === 'put' ? i : i + 1);
      }, text),
    );

test.each(Object.keys(TEXTS))('%s holds what another validator takes for one', (format) => {
  const [letters, ...texts] = TEXTS[format] as (typeof TEXTS)[string];
  const judge = ajv.compile({ type: 'string', format });
  const language = formatLanguage(format) as Language;
  for (const text of [...texts, FORMAT_EXAMPLES[format], example(language)])
    if (text !== undefined && DOUBTFUL[format]?.test(text) !== true)
      expect([text, accepts(language, text), judge(text)]).toEqual([text, true, true]);
  const doubtful = DOUBTFUL[format];
  let both = 0;
  fc.assert(
    fc.property(changed(letters, texts), (text) => {
      if (doubtful?.test(text) === true) return;
      const taken = judge(text);
      expect([text, accepts(language, text)]).toEqual([text, taken]);
      if (!taken) both += 1;
    }),
    { numRuns: RUNS },
  );
  expect(both).toBeGreaterThan(RUNS / 50);
});

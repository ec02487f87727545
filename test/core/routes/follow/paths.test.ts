import { expect, test } from 'vitest';
import { accepts } from '../../../../src/core/language/language.ts';
import type { Style } from '../../../../src/core/paths/pattern.ts';
import { parsePattern } from '../../../../src/core/paths/styles.ts';
import { languageOfType, parseType } from '../../../../src/core/paths/types.ts';
import { follow } from '../../../../src/core/routes/follow/follow.ts';
import { buildRouter } from '../../../../src/core/routes/index/router.ts';
import { tableOf } from '../../tables.ts';

/** type: texts that it takes | texts that it refuses */
const TYPES: Readonly<Record<string, readonly [string, string]>> = {
  text: ['7 a%b é', ''],
  int: ['7 -12 007', '7.5 +7 a'],
  uint: ['0 7', '-7'],
  number: ['7 -7.5 1e9 0.10', '.5 7. 1e NaN'],
  bool: ['true false', 'True 1'],
  uuid: ['3f2b8c1e-5a4d-4e6f-9b7a-0c1d2e3f4a5b', '3f2b8c1e5a4d4e6f9b7a0c1d2e3f4a5b'],
  date: ['2027-03-14 2028-02-29 2000-02-29', '2027-02-29 1900-02-29 2027-04-31 2027-13-01 2027-3-1'],
  datetime: ['2027-03-14T09:30:00Z 2027-03-14t09:30:00.25+01:00', '2027-03-14T24:00:00Z 2027-03-14'],
  slug: ['tarn-and-elm a1', '-a a- a--b A'],
  alpha: ['Elm', 'elm7'],
  alnum: ['elm7', 'elm-7'],
  hex: ['e1F7', 'xyz'],
  'among(open,closed)': ['open closed', 'ope opened'],
  'int(1..99)': ['1 99 07', '0 100 -1'],
  'int(-5..5)': ['-5 0 5 -0', '-6 6'],
  'int(250..)': ['250 999 1000', '249 25'],
  'text(2..3)': ['ab abc', 'a abcd'],
  '[A-Z]{2}-[0-9]{4}': ['TE-4821', 'TE-482 te-4821'],
};

test.each(Object.entries(TYPES))('type %s is the language it says', (name, [takes, refuses]) => {
  const result = parseType(name, new Map());
  if (!result.ok) throw new Error(result.message);
  for (const text of takes.split(' ')) expect([text, accepts(languageOfType(result.type), text)]).toEqual([text, true]);
  for (const text of refuses.split(' ')) expect([text, accepts(languageOfType(result.type), text)]).toEqual([text, false]);
});

/** style | pattern | target | parameters, or null where it does not match */
const SPELLINGS: readonly (readonly [Style, string, string, Readonly<Record<string, string>> | null])[] = [
  ['brace', '/locks/{lockId}', '/locks/7%2F8', { lockId: '7/8' }],
  ['brace', '/locks/{lockId}', '/locks/', null],
  ['brace', '/tolls/{page?}', '/tolls', {}],
  ['brace', '/tolls/{page:int?}', '/tolls/2', { page: '2' }],
  ['brace', '/{lang?}/tolls', '/tolls', {}],
  ['brace', '/{lang?}/tolls', '/en/tolls', { lang: 'en' }],
  ['brace', '/a/{rest*}', '/a', { rest: '' }],
  ['brace', '/a/{**rest}', '/a/b/c', { rest: 'b/c' }],
  ['brace', '/a/{*rest}', '/a/', { rest: '' }],
  ['brace', '/a/{rest:any}', '/a', null],
  ['brace', '/a/{rest...}', '/a/', { rest: '' }],
  ['brace', '/a/{rest+}', '/a/', null],
  ['brace', '/a/{rest:path}', '/a/b/', { rest: 'b/' }],
  ['brace', '/a/{rest:path}/gates', '/a/b/c/gates', { rest: 'b/c' }],
  ['brace', '/stoppages.{format}', '/stoppages.json', { format: 'json' }],
  ['brace', '/{a}-{b}', '/x-y-z', { a: 'x', b: 'y-z' }],
  ['brace', '/{name}.{ext}', '/plan.v2.pdf', { name: 'plan', ext: 'v2.pdf' }],
  ['brace', '/{a:int}{b:alpha}', '/12ab', { a: '12', b: 'ab' }],
  ['brace', '/v{major:uint}/locks', '/v2/locks', { major: '2' }],
  ['brace', '/caf%C3%A9', '/café', {}],
  ['brace', '/{code:[A-Z]{3}}', '/ELM', { code: 'ELM' }],
  ['colon', '/locks/:lockId(\\d+)', '/locks/7', { lockId: '7' }],
  ['colon', '/locks/:lockId(\\d+)', '/locks/elm', null],
  ['colon', '/tolls/:page?', '/tolls', {}],
  ['colon', '/a/*', '/a', null],
  ['colon', '/a/*', '/a/b/c', { 0: 'b/c' }],
  ['colon', '/a/*rest', '/a/', null],
  ['colon', '/a/*rest', '/a/b/', { rest: 'b/' }],
  ['colon', '/a/:rest+', '/a/b/c', { rest: 'b/c' }],
  ['colon', '/a/:rest+', '/a/b//c', null],
  ['colon', '/a/:rest*', '/a', {}],
  ['colon', '/:a-:b', '/x-y-z', { a: 'x', b: 'y-z' }],
  ['colon', '/:file.:ext', '/plan.pdf', { file: 'plan', ext: 'pdf' }],
  ['colon', '/tolls{/:opt}?', '/tolls', {}],
  ['colon', '/tolls{/:opt}?', '/tolls/7', { opt: '7' }],
  ['colon', '/files/:path(.*)', '/files/a/b', { path: 'a/b' }],
  ['colon', '/quote\\:now', '/quote:now', {}],
  ['angle', '/locks/<int:lockId>', '/locks/-7', null],
  ['angle', '/locks/<string(length=3):code>', '/locks/ELM', { code: 'ELM' }],
  ['angle', '/locks/<any(open,closed):state>', '/locks/open', { state: 'open' }],
  ['angle', '/files/<path:rest>', '/files/a/b', { rest: 'a/b' }],
  ['bracket', 'locks/[lockId=int]', '/locks/7', { lockId: '7' }],
  ['bracket', '(desk)/tolls/[[page]]', '/tolls', {}],
  ['bracket', 'files/[...rest]', '/files', null],
  ['bracket', 'files/[[...rest]]', '/files', {}],
  ['bracket', 'files/[...rest]', '/files/a/b', { rest: 'a/b' }],
  ['regex', '^locks/(?P<lockId>\\d+)/$', '/locks/7/', { lockId: '7' }],
  ['regex', '^locks/(?P<lockId>\\d+)/?$', '/locks/7', { lockId: '7' }],
  ['regex', '^/files/(?<rest>.+)\\.pdf$', '/files/a/b.pdf', { rest: 'a/b' }],
  ['regex', '^files/(?<rest>.+)$', '/files/a/b', { rest: 'a/b' }],
  ['regex', '^locks', '/locksmith/7', {}],
  ['regex', '(?i)^locks/$', '/LOCKS/', {}],
];

test.each(SPELLINGS)('%s %s on %s', (style, pattern, target, parameters) => {
  const { leaf, parameters: found } = follow(buildRouter(tableOf([`GET ${pattern} -> h`], {}, style)), {
    method: 'GET',
    target,
    headers: {},
  });
  expect(leaf === undefined ? null : Object.fromEntries([...found].map(([k, v]) => [k, v.text]))).toEqual(parameters);
});

test.each([
  ['/locks/{lockId', '{', 'never closed'],
  ['/locks/{}', '{}', 'name between the braces'],
  ['/locks/{lockId:itn}', 'itn', 'did you mean "int"'],
  ['/locks/{lockId:int(9..1)}', 'int(9..1)', 'holds no value'],
  ['/locks/{lockId:(?=7).}', '(?=7).', 'look-around'],
  ['/locks}', '}', 'without an opening one'],
])('%s is refused at %s', (pattern, at, message) => {
  const result = parsePattern(pattern, 'brace', new Map());
  if (result.ok) throw new Error('it was read');
  expect(pattern.slice(result.error.start, result.error.end)).toBe(at);
  expect(result.error.message).toContain(message);
});

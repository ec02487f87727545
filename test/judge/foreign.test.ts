/** Files that a stranger made up: whatever stands in them, every command ends with its status, in time, and prints no control. */
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { dump } from 'js-yaml';
import { expect, test } from 'vitest';
import { allSchemas } from '../core/schemas.ts';
import { folder, runAll } from '../run.ts';
import { runs, SEED } from '../runs.ts';

const FIRST = SEED + 7;
const INPUTS = runs(8);

/** Pieces of paths, names and texts that have hurt a reader somewhere. */
const PIECES = [
  ...[
    '/',
    '/',
    '/',
    'locks',
    'v1',
    'a',
    '-',
    '.',
    '{id}',
    '{id:int}',
    '{n:int(1..99999999999999999999)}',
    '{rest*}',
    '{o?}',
    '*',
  ],
  ...[
    ':id',
    ':id(\\d+)?',
    '<int:id>',
    '[id]',
    '[[...all]]',
    '(?:a+)+',
    '(?P<id>\\d{1,4000})',
    '{',
    '}',
    '(',
    '\\',
    '%2F',
    '%',
    '%zz',
  ],
  ...[
    '..',
    '//',
    ';v=1',
    '?q=1',
    '#x',
    'é',
    '\u202e',
    '\u001b[31m',
    '\u0000',
    '\u009b',
    '\n::error::x',
    '##[error]',
    '<img src=x>',
    '|',
  ],
  ...['=cmd()', '[x](javascript:x)', 'x'.repeat(300), '{a}{b}', '{a}.{b}', '{a:among(b,c)}', '{f:regex(^(a+)+$)}', '\ud800'],
];
const text = fc.array(fc.constantFrom(...PIECES), { maxLength: 6 }).map((all) => all.join(''));
const path = text.map((t) => `/${t}`);
const name = fc.oneof(
  { arbitrary: fc.constantFrom('id', 'n', 'x-1', 'Accept', 'lockId'), weight: 9 },
  { arbitrary: text, weight: 1 },
);
const word = text.map((t) => t || 'h');
const method = fc.constantFrom('GET', 'GET', 'POST', 'PUT', 'PATCH', 'DELETE', '*', 'GET|POST', 'get', 'BREW', 'HEAD');
const odd = fc.constantFrom<unknown>(null, '', 0, -1, 1e300, true, [], {}, [[]], '\u001b]0;x\u0007', 'x'.repeat(5_000));
const record = <T>(model: { [K in keyof T]: fc.Arbitrary<T[K]> }, ...requiredKeys: (keyof T)[]): fc.Arbitrary<Partial<T>> =>
  fc.record(model, { requiredKeys, noNullPrototype: true }) as never;
/** Now and then something else stands there. */
const or = (what: fc.Arbitrary<unknown>): fc.Arbitrary<unknown> =>
  fc.oneof({ arbitrary: what, weight: 99 }, { arbitrary: odd, weight: 1 });
const line = fc.tuple(method, path, text).map(([m, p, h]) => `${m} ${p} -> ${h || 'h'}`);

const entries = fc.letrec((tie) => ({
  list: fc.array(
    or(
      fc.oneof(
        { maxDepth: 3, depthSize: 'small' },
        line,
        record(
          {
            route: fc.tuple(method, path).map((l) => l.join(' ')),
            handler: word,
            host: word,
            version: or(fc.constantFrom('1', '1-2', '2..', 'x')),
            takes: fc.array(fc.constantFrom('application/json', 'text/*', 'a/b;x=1'), { maxLength: 2 }),
            returns: fc.array(fc.constantFrom('application/json', '*/*', 'text/*;q=0.1', ';', 'a/b/c'), { maxLength: 3 }),
            headers: fc.dictionary(name, text, { maxKeys: 2, noNullPrototype: true }),
            query: fc.dictionary(name, text, { maxKeys: 2, noNullPrototype: true }),
            parameters: fc.dictionary(name, fc.constantFrom('int', 'uuid', 'int(1..9)', 'x', 'text'), {
              maxKeys: 2,
              noNullPrototype: true,
            }),
            sunset: or(fc.constant('2027-03-14')),
          },
          'route',
          'handler',
        ),
        record({ within: path, routes: tie('list'), unmatched: fc.constantFrom('end', 'continue') }, 'within', 'routes'),
        record({ resource: path, item: word, below: tie('list') }, 'resource'),
        record(
          {
            from: fc.constantFrom('list.txt', 'list.txt', 'canal.openapi.json', '.', '*.txt', '../x', '/dev/zero', '-'),
            within: path,
            row: fc.constantFrom('(?<method>\\w+) (?<path>\\S+)', '(?<path>(a+)+$)', '(', ''),
            skip: text,
            style: fc.constantFrom('brace', 'colon', 'parens', 'regex'),
            types: fc.constantFrom('ignore', 'keep'),
          },
          'from',
        ),
        record(
          {
            include: fc.constantFrom('canal.routes.yaml', '../x', '/dev/zero', 'nowhere', ...Array(20).fill('other.routes.yaml')),
          },
          'include',
        ),
      ),
    ),
    { maxLength: 7 },
  ),
})).list;

const routes = record({
  routeTable: or(fc.constant(1)),
  service: or(word),
  style: or(fc.constantFrom('brace', 'colon', 'angle', 'bracket', 'regex')),
  router: or(
    fc.constantFrom<unknown>({}, { precedence: 'most-specific' }, { precedence: 'last-declared' }, { ties: 'ambiguous' }),
  ),
  types: fc.dictionary(
    fc.constantFrom('a', 'slug', '\u001b'),
    or(fc.constantFrom({ pattern: '^(a|a)*$' }, { among: ['a', 'b'] })),
    {
      maxKeys: 2,
      noNullPrototype: true,
    },
  ),
  routes: entries,
}).map((t): unknown => ({ routeTable: 1, routes: [], ...t }));

const ref = fc.constantFrom(
  '#/components/schemas/S0',
  '#/components/schemas/S1',
  '#',
  '#/paths',
  'https://x.example/y',
  '../z.yaml',
);
const schema = fc.oneof(
  { arbitrary: allSchemas, weight: 4 },
  { arbitrary: ref.map(($ref): unknown => ({ $ref })), weight: 2 },
  {
    arbitrary: fc.constantFrom<unknown>(
      { type: 'string', pattern: '^(a+)+$' },
      { type: 'string', pattern: '(?<=a)b\\1', maxLength: 1e9 },
      { type: 'integer', maximum: 9223372036854775000, minimum: -1e308 },
      { type: 'string', format: 'int64', enum: ['\u001b[2J', '\n##vso[x]'] },
    ),
    weight: 1,
  },
);
const content = fc
  .tuple(fc.constantFrom('application/json', '*/*', 'text/csv', 'multipart/form-data', 'x', ''), schema)
  .map(([type, s]) => ({ [type]: { schema: s } }));
const operation = record({
  operationId: text,
  parameters: fc.array(
    or(
      record({
        name: fc.oneof(text, fc.constant('id')),
        in: fc.constantFrom('path', 'query', 'header', 'cookie', 'x'),
        required: fc.boolean(),
        style: fc.constantFrom('simple', 'form', 'deepObject', 'matrix', 'x'),
        schema,
      }),
    ),
    { maxLength: 3 },
  ),
  requestBody: or(content.map((c) => ({ content: c }))),
  responses: fc.dictionary(
    fc.constantFrom('200', '201', '4XX', 'default', '204', 'x'),
    or(content.map((c) => ({ description: 'd', content: c }))),
    {
      maxKeys: 3,
      noNullPrototype: true,
    },
  ),
  security: or(fc.constantFrom<unknown>([{}], [{ key: [] }])),
});
const document = fc
  .tuple(
    fc.constantFrom<object>({ openapi: '3.1.0' }, { openapi: '3.0.3' }, { swagger: '2.0' }, { openapi: '3.2.0' }),
    text,
    fc.dictionary(
      path,
      or(
        fc.dictionary(fc.constantFrom('get', 'post', 'put', 'delete', 'parameters', '$ref'), operation, {
          maxKeys: 3,
          noNullPrototype: true,
        }),
      ),
      { maxKeys: 5, noNullPrototype: true },
    ),
    fc.tuple(schema, schema),
    or(fc.array(record({ url: fc.oneof(path, fc.constant('https://canal.example/{v}')), variables: odd }), { maxLength: 2 })),
  )
  .map(([edition, title, paths, [S0, S1], servers]): unknown => ({
    ...edition,
    info: { title, version: '1.0.0' },
    servers,
    paths,
    components: { schemas: { S0, S1 } },
  }));

const settings = record({
  services: or(fc.constant([{ name: 'canal', routes: 'canal.routes.yaml', document: 'canal.openapi.json' }])),
  versioning: or(
    fc.constantFrom(
      { selector: 'path', versions: [{ id: '1' }, { id: '2' }] },
      { selector: 'header', name: 'X-V', versions: [{ id: '1' }] },
    ),
  ),
  levels: or(fc.constant({ 'methods/missing': 'off' })),
  expect: or(
    fc.array(
      record({ request: fc.constant('GET /locks/7'), status: or(fc.constant(404)), handler: word }, 'request', 'handler'),
      { maxLength: 2 },
    ),
  ),
  clients: or(
    fc.array(
      record(
        { name: word, accept: or(fc.constant('text/*;q=0.5, */*;q=0.1')), sends: or(fc.constant('application/json')) },
        'name',
      ),
      { maxLength: 2 },
    ),
  ),
});

/** As YAML, as JSON, or cut off somewhere. */
const written = (value: fc.Arbitrary<unknown>, as: 'json' | 'any'): fc.Arbitrary<string> =>
  fc
    .tuple(value, fc.constantFrom(...Array<string>(14).fill(as === 'json' ? 'json' : 'yaml'), 'json', 'cut'), fc.nat())
    .map(([v, how, at]) => {
      const whole = how === 'yaml' ? dump(v, { skipInvalid: true }) : JSON.stringify(v, null, 1);
      return how === 'cut' ? whole.slice(0, at % (whole.length + 1)) : whole;
    });

const input = fc.record({
  list: fc.array(
    fc.tuple(method, fc.constantFrom(' ', '  ', '\t', ' | ', ' .... ', '├── '), path, text).map((l) => l.join(' ')),
    { maxLength: 9 },
  ),
  table: written(routes, 'any'),
  other: written(routes, 'any'),
  old: written(document, 'json'),
  now: written(document, 'json'),
  settings: fc.option(written(settings, 'any'), { freq: 3, nil: undefined }),
  requests: fc.array(
    fc.oneof(
      record({ method, target: path, headers: odd, body: odd }).map((r) => JSON.stringify(r)),
      text,
    ),
    { maxLength: 4 },
  ),
  target: path,
  headers: text,
});
type Input = typeof input extends fc.Arbitrary<infer T> ? T : never;

/** A file that every command of one folder reads, and each command with every way to print. */
function jobsOf(one: Input, dir: string): readonly { readonly dir: string; readonly args: readonly string[] }[] {
  mkdirSync(dir, { recursive: true });
  writeFileSync(join(dir, 'canal.routes.yaml'), one.table);
  writeFileSync(join(dir, 'other.routes.yaml'), one.other);
  writeFileSync(join(dir, 'canal.openapi.json'), one.old);
  writeFileSync(join(dir, 'now.openapi.json'), one.now);
  writeFileSync(join(dir, 'list.txt'), one.list.join('\n'));
  writeFileSync(join(dir, 'asked.jsonl'), one.requests.join('\n'));
  if (one.settings !== undefined) writeFileSync(join(dir, 'elm-gate.yaml'), one.settings);
  const files = ['--routes', 'canal.routes.yaml', '--document', 'canal.openapi.json'];
  const target = one.target.replaceAll('\u0000', '');
  const commands = [
    ['check', ...files],
    ['import', 'list.txt'],
    ['import', 'canal.openapi.json', '--format', 'json'],
    ['check', '--format', 'json', ...files],
    ['table', ...files],
    ['table', '--format', 'csv', '--routes', 'canal.routes.yaml'],
    ['table', '--format', 'markdown', '--routes', 'canal.routes.yaml'],
    ['methods', ...files],
    ['media', ...files],
    ['versions', ...files],
    ['follow', 'GET', target, ...files],
    ['follow', '--requests', 'asked.jsonl', ...files],
    ['compare', 'canal.openapi.json', 'now.openapi.json', '--all'],
    ['compare', 'canal.routes.yaml', 'other.routes.yaml', '--format', 'json'],
    ...(one.settings === undefined ? [] : [['check'], []]),
  ];
  return commands.map((args) => ({ dir, args }));
}

const MISTAKE = /mistake of its own|\n\s+at |node:internal|\[object |NaN/u;
// biome-ignore lint/suspicious/noControlCharactersInRegex: these are what may not be printed
const CONTROL = /[\u0000-\u0008\u000b-\u001f\u007f-\u009f\u202a-\u202e\u2066-\u2069]|^\s*(?:::|##\[|##vso)/mu;
/** The longest that one command may take, in milliseconds, on a machine that does other things too. */
const MOST = 30_000;

function wrongOf(inputs: readonly Input[]): readonly { readonly at: number; readonly what: object }[] {
  const root = folder();
  const jobs = inputs.flatMap((one, at) => jobsOf(one, join(root, String(at))).map((job) => ({ ...job, at })));
  const wrong = runAll(jobs).flatMap(({ status, out, err, took }, i) => {
    const { args, at } = jobs[i] as (typeof jobs)[number];
    const said = status === 2 ? err.trim() !== '' : status === 0 || status === 1;
    const isFine = said && !MISTAKE.test(err) && !CONTROL.test(out + err) && took < MOST;
    return isFine ? [] : [{ at, what: { args: args.join(' '), status, took, err: err.slice(0, 300), out: out.slice(0, 300) } }];
  });
  rmSync(root, { recursive: true });
  return wrong;
}

/** So many inputs are run in one process. */
const BATCH = 100;

test('any table, document, settings and requests -> every command ends with 0, 1 or 2 and a sentence', () => {
  const inputs = fc.sample(input, { numRuns: INPUTS, seed: FIRST });
  for (let from = 0; from < inputs.length; from += BATCH) {
    const [first] = wrongOf(inputs.slice(from, from + BATCH));
    if (first === undefined) continue;
    // The smallest input like it.
    const found = fc.check(
      fc.property(input, (one) => wrongOf([one]).length === 0),
      { seed: FIRST, path: String(from + first.at), numRuns: 1, interruptAfterTimeLimit: 60_000 },
    );
    const [smallest = inputs[from + first.at] as Input] = found.counterexample ?? [];
    const dir = folder();
    jobsOf(smallest, dir);
    expect({ wrong: first.what, like: wrongOf([smallest]).map((w) => w.what), files: dir }).toEqual({});
  }
});

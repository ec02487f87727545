/** Requests that are written by the rules of a document are not complained of, and each thing that is wrong with one is. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { contextOf } from '../../../../src/core/checks/engine/context.ts';
import { readContract } from '../../../../src/core/contract/read/read-contract.ts';
import { checkRequest } from '../../../../src/core/contract/request/check-request.ts';
import type { RequestError } from '../../../../src/core/contract/request/complaint.ts';
import { follow } from '../../../../src/core/routes/follow/follow.ts';
import { isValid } from '../../../../src/core/schema/validate/validate.ts';
import { runs } from '../../../runs.ts';
import { schemaFrom } from '../../schemas.ts';
import { tableOf } from '../../tables.ts';

const RUNS = runs(250);

type Where = 'query' | 'header' | 'cookie' | 'path';
interface Declared {
  readonly in: Where;
  readonly style?: string;
  readonly explode?: boolean;
  readonly required: boolean;
  readonly schema: object;
}

const scalar = fc.constantFrom<object>(
  { type: 'integer', minimum: 0, maximum: 50 },
  { type: 'string', pattern: '^[a-z]+$' },
  { type: 'boolean' },
  { enum: ['open', 'closed', 7] },
  { type: 'string', format: 'date' },
);
const list = fc.record({
  type: fc.constant('array'),
  items: scalar,
  minItems: fc.nat(1),
  maxItems: fc.integer({ min: 2, max: 3 }),
});
const STYLES: Record<Where, readonly (readonly [style: string, explode: boolean, separator: string | undefined])[]> = {
  query: [
    ['form', true, undefined],
    ['form', false, ','],
    ['spaceDelimited', false, ' '],
    ['pipeDelimited', false, '|'],
  ],
  header: [['simple', false, ', ']],
  cookie: [['form', false, ',']],
  path: [['simple', false, ',']],
};
const where = fc.constantFrom<Where>('query', 'header', 'cookie', 'path');
const declared = fc
  .tuple(where, fc.nat(), fc.boolean(), fc.oneof(scalar, list))
  .map(([place, nth, required, schema]): Declared & { readonly separator: string | undefined } => {
    const [style, explode, separator] = STYLES[place][nth % STYLES[place].length] as (typeof STYLES)['query'][number];
    return { in: place, style, explode, required: required || place === 'path', schema, separator };
  });
const WORDS = ['7', '0', '51', '-3', 'elm', 'Elm', 'true', 'open', 'closed', '2027-03-14', '2027-02-30'];
// Of one text alone a fifth fits, of several hardly any: half of the requests have one.
const sent = fc.oneof(
  fc.constantFrom(...WORDS).map((text) => [text]),
  fc.array(fc.constantFrom(...WORDS), { minLength: 1, maxLength: 4 }),
);

/** The request in which the texts stand as the parameter has them. */
function requestWith(parameter: Declared & { readonly separator: string | undefined }, texts: readonly string[]) {
  const isList = 'items' in parameter.schema;
  const joined =
    isList && parameter.separator !== undefined ? [texts.join(parameter.separator)] : isList ? texts : texts.slice(0, 1);
  const encoded = joined.map((t) => encodeURIComponent(t));
  const target = parameter.in === 'path' ? `/locks/${encoded[0]}` : '/locks';
  const query = parameter.in === 'query' ? `?${encoded.map((t) => `p=${t}`).join('&')}` : '';
  const headers: Record<string, string> = {};
  if (parameter.in === 'header') headers.P = joined[0] as string;
  if (parameter.in === 'cookie') headers.Cookie = `other=1; p=${joined[0]}`;
  return { method: 'GET', target: target + query, headers };
}

function complaintsOf(
  { separator: _, ...parameter }: Declared & { readonly separator: string | undefined },
  request: object,
): readonly RequestError[] {
  const path = parameter.in === 'path' ? '/locks/{p}' : '/locks';
  const read = readContract(
    {
      openapi: '3.1.0',
      info: { title: 'Canal', version: '1.0.0' },
      paths: { [path]: { get: { parameters: [{ name: 'p', ...parameter }], responses: {} } } },
    },
    'canal.openapi.yaml',
  );
  if (!read.ok) throw new Error(read.message);
  const { router, pairing } = contextOf({ name: 'canal', table: tableOf([`GET ${path} -> locks`]), contracts: [read.contract] });
  const following = follow(router as never, request as never);
  return checkRequest(following, pairing())?.complaints ?? [];
}

/** Does some value that these texts may stand for fit? Each text by itself may be a number, a truth value or text. */
function isFine({ schema }: Declared, texts: readonly string[]): boolean {
  const values = (t: string): readonly unknown[] => [
    t,
    ...(/^-?\d+$/u.test(t) ? [Number(t)] : []),
    ...(t === 'true' ? [true] : []),
  ];
  if (!('items' in schema)) return values(texts[0] as string).some((v) => isValid(schemaFrom(schema), v));
  const items = texts.map((t) => values(t).find((v) => isValid(schemaFrom((schema as { items: object }).items), v)));
  return items.every((i) => i !== undefined) && isValid(schemaFrom(schema), items);
}

test('a parameter is complained of where no value that its text stands for is documented, and not otherwise', () => {
  const met = { fine: 0, wrong: 0 };
  fc.assert(
    fc.property(declared, sent, (parameter, texts) => {
      const complaints = complaintsOf(parameter, requestWith(parameter, texts));
      const fine = isFine(parameter, texts);
      met[fine ? 'fine' : 'wrong'] += 1;
      expect([complaints.map((c) => c.message), complaints.length === 0]).toEqual([complaints.map((c) => c.message), fine]);
      for (const c of complaints) expect([c.in, c.name, c.status]).toEqual([parameter.in, 'p', 400]);
    }),
    { numRuns: RUNS },
  );
  expect(Math.min(met.fine, met.wrong)).toBeGreaterThan(RUNS / 8);
});

test('what is required and missing is told, with what stands there under nearly the same name', () => {
  const parameter = {
    in: 'query',
    style: 'form',
    explode: true,
    required: true,
    schema: { type: 'integer' },
    separator: undefined,
  } as const;
  const told = (target: string) => complaintsOf(parameter, { method: 'GET', target, headers: {} }).map((c) => c.message);
  expect(told('/locks')).toEqual(['the query parameter p is missing']);
  expect(told('/locks?p=7')).toEqual([]);
  expect(told('/locks?p=7&other=1')).toEqual(['the query parameter other is not declared']);
  expect(told('/locks?P=7')).toEqual([
    'the query parameter p is missing',
    'the query parameter P is not declared; did you mean p?',
  ]);
});

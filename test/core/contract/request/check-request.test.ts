/** Requests held against the document. */
import { load } from 'js-yaml';
import { expect, test } from 'vitest';
import { contextOf } from '../../../../src/core/checks/engine/context.ts';
import { readContract } from '../../../../src/core/contract/read/read-contract.ts';
import { checkRequest } from '../../../../src/core/contract/request/check-request.ts';
import { follow } from '../../../../src/core/routes/follow/follow.ts';
import { tableOf } from '../../tables.ts';

const DOCUMENT = `
openapi: 3.1.0
paths:
  /locks:
    get:
      parameters:
        - { name: filter, in: query, style: deepObject, schema: { type: object, required: [rise], properties: { rise: { type: integer }, state: { enum: [open, closed] } } } }
        - { name: near, in: query, explode: false, schema: { type: object, properties: { mile: { type: number } } } }
        - { name: tag, in: query, schema: { type: array, maxItems: 2, items: { type: string } } }
        - { name: Desk, in: header, required: true, schema: { type: integer } }
        - { name: seen, in: cookie, schema: { type: boolean } }
      responses: {}
    post:
      requestBody:
        content:
          application/x-www-form-urlencoded: { schema: { $ref: "#/components/schemas/Lock" } }
          application/json: { schema: { $ref: "#/components/schemas/Lock" } }
      responses: { 422: { description: No } }
components:
  schemas:
    Lock: { type: object, required: [lockId], properties: { lockId: { type: integer, minimum: 1 }, gates: { type: array, items: { enum: [top, tail] } } } }
`;
const read = readContract(load(DOCUMENT), 'canal.openapi.yaml');
if (!read.ok) throw new Error(read.message);
const { router, pairing } = contextOf({
  name: 'canal',
  table: tableOf(['GET|POST /locks -> locks']),
  contracts: [read.contract],
});

const FORM = { 'Content-Type': 'application/x-www-form-urlencoded' };
const JSON_TYPE = { 'Content-Type': 'application/json; charset=utf-8' };

test.each<[string, Record<string, string>, string | undefined, readonly string[]]>([
  ['GET /locks?filter[rise]=3&filter[state]=open&near=mile,2.5&tag=a&tag=b', { Desk: '7' }, undefined, []],
  ['GET /locks?filter[rise]=high', { desk: '7' }, undefined, ['400 query filter /rise']],
  ['GET /locks?filter[state]=open', { Desk: '7' }, undefined, ['400 query filter ']],
  ['GET /locks?near=mile,far&tag=a&tag=b&tag=c', { Desk: '7' }, undefined, ['400 query near /mile', '400 query tag ']],
  ['GET /locks?tga=a', { Cookie: 'seen=perhaps' }, undefined, ['400 header Desk ', '400 cookie seen ', 'null query tga  -> tag']],
  ['POST /locks', FORM, 'lockId=7&gates=top&gates=tail', []],
  ['POST /locks', FORM, 'lockId=0&gates=side', ['422 body  /lockId', '422 body  /gates/0']],
  ['POST /locks', FORM, 'gates=top', ['422 body  ']],
  ['POST /locks', JSON_TYPE, '{"lockId":7,"gate":["top"]}', ['null body  /gate -> gates']],
  ['POST /locks', JSON_TYPE, '{', ['422 body  ']],
  ['POST /locks', { 'Content-Type': 'text/csv' }, 'a', ['415 body  ']],
  ['POST /locks', {}, 'a', ['415 body  ']],
])('%s %j %s', (line, headers, body, expected) => {
  const [method = '', target = ''] = line.split(' ');
  const request = { method, target, headers, ...(body === undefined ? {} : { body }) };
  const found = checkRequest(follow(router as NonNullable<typeof router>, request), pairing());
  const status = found?.status;
  const told = (found?.complaints ?? []).map(
    (c) =>
      `${c.status === 400 ? status : c.status} ${c.in} ${c.name} ${c.pointer}${c.suggestion === undefined ? '' : ` -> ${c.suggestion}`}`,
  );
  expect(told).toEqual(expected);
});

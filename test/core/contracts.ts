/** Documents of one operation, written short, and what is told of two of them. */
import { load } from 'js-yaml';
import type { Change } from '../../src/core/compare/changes/change.ts';
import { compareContracts } from '../../src/core/compare/compare-contracts.ts';
import { readContract } from '../../src/core/contract/read/read-contract.ts';

const head = (version: string): string => `openapi: 3.1.0\ninfo: { title: Canal, version: ${version} }\n`;

export function contractOf(text: string, version = '1.0.0') {
  const result = readContract(load(head(version) + text), 'canal.openapi.yaml');
  if (!result.ok) throw new Error(result.message);
  return result.contract;
}

export const told = (changes: readonly Change[]): readonly string[] =>
  changes.map((c) => `${c.effect} ${c.rule.replace('versions/', '')}${c.value ? ` ${c.value}` : ''}`);
export const compare = (old: string, now: string, versions: readonly string[] = []) =>
  compareContracts(contractOf(old), contractOf(now), { versions });
export const operation = (text: string, path = '/locks', method = 'get'): string =>
  `paths: { "${path}": { ${method}: { ${text} } } }`;
export const answers = (schema: string): string =>
  operation(`responses: { 200: { content: { application/json: { schema: { ${schema} } } } } }`);
export const takes = (schema: string): string =>
  operation(`requestBody: { content: { application/json: { schema: { ${schema} } } } }`, '/locks', 'post');
export const json = (schema: string, type = 'application/json'): string =>
  `requestBody: { content: { ${type}: { schema: { ${schema} } } } }`;
export const webhook = (schema: string, type = 'application/json', responses = '{}'): string =>
  `webhooks: { opened: { post: { ${json(schema, type)}, responses: ${responses} } } }`;
export const query = (text: string): string => operation(`parameters: [{ name: limit, in: query, ${text} }]`);
export const object = (properties: string, more = ''): string => `type: object, properties: { ${properties} }${more}`;

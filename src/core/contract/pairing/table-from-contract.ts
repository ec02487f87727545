/** A document that stands in for a route table: style brace, most specific first, left to right, its parameters typed as it says. */

import { intersect, isEmpty } from '../../language/language.ts';
import { decide } from '../../language/limits.ts';
import type { Pattern } from '../../paths/pattern.ts';
import { parseTemplate } from '../../paths/template.ts';
import { languageOfType, type ParameterType, TEXT } from '../../paths/types.ts';
import { bareRoute, type Route, type RouteTable } from '../../routes/table/route.ts';
import { factsFrom } from '../../routes/table/router-facts.ts';
import type { Schema } from '../../schema/model/schema.ts';
import { describeSchemaText, languageOfSchema } from '../../schema/wire/text-language.ts';
import type { Contract, Operation, Parameter } from '../model/contract.ts';
import { fullPath, mountedBase } from './full-path.ts';

/** The routes that documents promise, each below its first base path. */
export function tableFromContracts(contracts: readonly Contract[], service: string, mount = ''): RouteTable {
  const all = contracts.flatMap((contract) =>
    contract.operations.map((operation) => ({
      operation,
      base: mountedBase((operation.bases ?? contract.bases)[0] ?? '', mount),
    })),
  );
  const routes = all.map(({ operation, base }, index): Route => {
    const path = fullPath(base, operation.path);
    const { method, id, place, deprecated } = operation;
    const route = bareRoute({
      index,
      methods: [method],
      path,
      pattern: typed(parseTemplate(path), operation),
      handler: id ?? `${method} ${path}`,
      place,
    });
    return deprecated ? { ...route, deprecated } : route;
  });
  const facts = factsFrom({ precedence: 'most-specific', specificity: 'left-to-right' });
  const place = (contracts[0] as Contract).place;
  return { service, style: 'brace', facts, types: new Map(), routes, flaws: [], place };
}

/** The pattern with the types that the document gives its parameters, as far as they are languages. */
function typed(pattern: Pattern, { parameters }: Operation): Pattern {
  const types = new Map(parameters.flatMap((p) => (p.in === 'path' ? [[p.name, typeOf(p)] as const] : [])));
  if (![...types.values()].some((t) => t !== TEXT)) return pattern;
  const shapes = pattern.shapes.map((shape) =>
    shape.map((piece) => ({
      ...piece,
      parts: piece.parts.map((part) => (part.kind === 'parameter' ? { ...part, type: types.get(part.name) ?? TEXT } : part)),
    })),
  );
  return { ...pattern, shapes };
}

const typeCache = new WeakMap<Schema, ParameterType>();

/** What a schema takes of one segment; plain text where it says nothing of texts, or nothing that can be decided. */
function typeOf({ schema, content, examples }: Parameter): ParameterType {
  if (schema === undefined || content !== undefined) return TEXT;
  const found = typeCache.get(schema) ?? made(schema, examples);
  typeCache.set(schema, found);
  return found;
}

function made(schema: Schema, examples: readonly unknown[]): ParameterType {
  const words = describeSchemaText(schema);
  if (words === 'string' || words === 'any text') return TEXT;
  const language = decide(() => {
    const texts = languageOfSchema(schema, ',');
    return texts.decided ? intersect(texts.value, languageOfType(TEXT)) : undefined;
  });
  if (!language.decided || language.value === undefined || isEmpty(language.value)) return TEXT;
  const k = schema.keywords();
  const own = typeof k === 'object' ? [...k.examples, ...(k.enum ?? []), ...(k.types?.includes('integer') ? [7] : [])] : [];
  const hints = [...examples, ...own].filter((e) => typeof e === 'string' || typeof e === 'number').map(String);
  return { name: words, expression: { kind: 'automaton', automaton: language.value.automaton }, hints };
}

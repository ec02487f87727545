/** What path templates and declared path parameters have in common, for three rules of this folder. */

import type { Place } from '../../base/place.ts';
import { type Operation, operationTitle } from '../../contract/model/contract.ts';
import { parametersOf } from '../../paths/pattern.ts';
import { parseTemplate } from '../../paths/template.ts';
import type { Context } from '../engine/context.ts';
import type { Found } from '../engine/finding.ts';

export interface Declaration {
  readonly operations: readonly Operation[];
  readonly name: string;
  readonly place: Place;
}

/** The parameters that are missing, unused or optional; one for all operations that share the place. */
export function declarations(context: Context, of: 'missing' | 'unused' | 'optional'): readonly Declaration[] {
  const found = new Map<string, { operations: Operation[]; name: string; place: Place }>();
  for (const operation of context.service.contracts.flatMap((c) => c.operations)) {
    for (const { name, place, key } of inOperation(operation, of)) {
      const known = found.get(key) ?? { operations: [], name, place };
      known.operations.push(operation);
      found.set(key, known);
    }
  }
  return [...found.values()];
}

function inOperation(
  operation: Operation,
  of: 'missing' | 'unused' | 'optional',
): readonly { name: string; place: Place; key: string }[] {
  const names = new Set(parametersOf(parseTemplate(operation.path)).map((p) => p.name));
  const declared = operation.parameters.filter((p) => p.in === 'path');
  if (of === 'missing') {
    return [...names]
      .filter((n) => !declared.some((p) => p.name === n))
      .map((name) => ({ name, place: operation.place, key: `${operation.path} ${name}` }));
  }
  const wrong = declared.filter((p) => (of === 'unused' ? !names.has(p.name) : names.has(p.name) && !p.saysRequired));
  return wrong.map((p) => ({ name: p.name, place: p.place, key: `${p.place.file}#${p.place.pointer}` }));
}

export function declarationFinding({ operations, name, place }: Declaration): Found {
  const [first, ...others] = operations as readonly [Operation, ...Operation[]];
  return {
    message: 'one',
    advice: 'fix',
    data: { operation: operationTitle(first), name },
    at: { place, what: operationTitle(first) },
    related: others.map((o) => ({ role: 'the same', place: o.place, what: operationTitle(o) })),
  };
}

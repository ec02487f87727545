/** What path templates and declared path parameters have in common, for three rules of this folder. */

import { memoise } from '../../base/memo.ts';
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

const KINDS = ['missing', 'unused', 'optional'] as const;
type Kind = (typeof KINDS)[number];

/** The parameters that are missing, unused or optional; one for all operations that share the place. */
export function declarations(context: Context, of: Kind): readonly Declaration[] {
  return allDeclarations(context)[of];
}

const allDeclarations: (context: Context) => Readonly<Record<Kind, readonly Declaration[]>> = memoise((context) => {
  const found = new Map(KINDS.map((kind) => [kind, new Map<string, Declaration & { readonly operations: Operation[] }>()]));
  for (const operation of context.service.contracts.flatMap((c) => c.operations)) {
    for (const { kind, name, place, key } of inOperation(operation)) {
      const ofKind = found.get(kind);
      const known = ofKind?.get(key) ?? { operations: [], name, place };
      known.operations.push(operation);
      ofKind?.set(key, known);
    }
  }
  const list = (kind: Kind): readonly Declaration[] => [...(found.get(kind)?.values() ?? [])];
  return { missing: list('missing'), unused: list('unused'), optional: list('optional') };
});

interface InOperation {
  readonly kind: Kind;
  readonly name: string;
  readonly place: Place;
  readonly key: string;
}

function inOperation(operation: Operation): readonly InOperation[] {
  const names = new Set(parametersOf(parseTemplate(operation.path)).map((p) => p.name));
  const declared = operation.parameters.filter((p) => p.in === 'path');
  const missing = [...names].filter((n) => !declared.some((p) => p.name === n));
  return [
    ...missing.map((name) => ({ kind: 'missing' as const, name, place: operation.place, key: `${operation.path} ${name}` })),
    ...declared.flatMap(({ name, place, saysRequired }): readonly InOperation[] => {
      const key = `${place.file}#${place.pointer}`;
      if (!names.has(name)) return [{ kind: 'unused', name, place, key }];
      return saysRequired ? [] : [{ kind: 'optional', name, place, key }];
    }),
  ];
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

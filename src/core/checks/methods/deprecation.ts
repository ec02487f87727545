import { operationTitle } from '../../contract/model/contract.ts';
import { type Context, spotOf } from '../engine/context.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const deprecation: Rule = {
  id: 'methods/deprecation',
  level: 'warning',
  messages: {
    table: '{operation} is deprecated in the route table, and the document does not say so',
    document: '{operation} is deprecated in the document, and the route table does not say so',
  },
  advice: { both: 'Say deprecated: on both sides, or on neither.' },
  meta: {
    what: 'An operation that is deprecated on one side alone.',
    why: 'Clients learn it too late, or the service goes on serving what it announced to end.',
    example: '- route: GET /v1/locks\n  handler: v1.locks.list\n  deprecated: true            # and the document is silent',
    fix: 'Decide, and say it in both.',
  },
  check: (context) => differing(context),
};

function differing(context: Context): readonly Found[] {
  return (context.pairing()?.operations ?? []).flatMap(({ operation, routes }): Found[] => {
    const [route] = routes;
    if (route === undefined) return [];
    const [table, document] = [routes.some((r) => r.deprecated !== undefined && r.deprecated !== false), operation.deprecated];
    if (table === document) return [];
    return [
      {
        message: table ? 'table' : 'document',
        advice: 'both',
        data: { operation: operationTitle(operation) },
        at: spotOf(route),
        related: [{ role: 'documented', place: operation.place, what: operationTitle(operation) }],
      },
    ];
  });
}

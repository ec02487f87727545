import { operationTitle } from '../../contract/model/contract.ts';
import type { Documented } from '../../contract/pairing/pair-operations.ts';
import { templateExample } from '../../routes/examples/example-request.ts';
import { nearest } from '../../routes/suggest/nearest-routes.ts';
import { routeTitle } from '../../routes/table/route.ts';
import { type Context, spotOf, witnessOf } from '../engine/context.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const unserved: Rule = {
  id: 'methods/unserved',
  level: 'error',
  messages: {
    nobody: '{operation} is documented, and a request for it is answered {status}',
    another: '{operation} is documented, and a request for it lands on {handler}',
  },
  advice: {
    declare: 'Declare the route, or remove the operation from the document.',
    near: 'Declare the route, or correct the document: {near} is the nearest ({why}).',
    land: 'Declare a route for it ahead of {route}, or remove the operation from the document.',
  },
  meta: {
    what: 'A documented operation that no route serves.',
    why: 'Clients written from the document get 404 or 405, or an answer from a handler that was meant for something else.',
    example:
      'paths:\n  /stoppages/{stoppageId}:\n    delete: { operationId: stoppages.delete }     # and no DELETE route in the table',
    fix: 'Serve it, or stop promising it.',
  },
  check: (context) =>
    context
      .pairing()
      ?.operations.filter((o) => o.routes.length === 0)
      .flatMap((o) => report(context, o)) ?? [],
};

function report(context: Context, documented: Documented): readonly Found[] {
  const { router } = context;
  if (router === undefined) return [];
  const { operation, path } = documented;
  const witness = witnessOf(router, templateExample(router, operation.method, path));
  const { leaf, status } = witness.following;
  // A proxy route with a tail below a fixed prefix takes whatever is documented there.
  const proxied = leaf !== undefined && leaf.shape.length > 1 && leaf.shape[leaf.shape.length - 1]?.kind === 'span';
  if (proxied) return [];
  const [near] = leaf === undefined ? nearest(router, witness.following) : [];
  const data = {
    near: near === undefined ? '' : routeTitle(near.route),
    why: near?.message ?? '',
    operation: operationTitle(operation),
    status: status ?? '',
    handler: leaf?.route.handler ?? '',
    route: leaf?.route.path ?? '',
  };
  return [
    {
      message: leaf === undefined ? 'nobody' : 'another',
      advice: leaf !== undefined ? 'land' : near === undefined ? 'declare' : 'near',
      data,
      at: { place: operation.place, what: operationTitle(operation) },
      related: [
        ...(leaf === undefined ? [] : [{ role: 'shadowed by', ...spotOf(leaf.route) }]),
        ...(near === undefined ? [] : [{ role: 'nearest', ...spotOf(near.route) }]),
      ],
      witness,
    },
  ];
}

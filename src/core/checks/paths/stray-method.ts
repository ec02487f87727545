import { fallThroughs } from '../../routes/findings/strays.ts';
import { restsOn } from '../../routes/table/router-facts.ts';
import { spotOf } from '../engine/context.ts';
import type { Rule } from '../engine/rule.ts';

export const strayMethod: Rule = {
  id: 'paths/stray-method',
  level: 'warning',
  messages: {
    lands: '{methods} {path} is not declared and falls through to {handler} with {parameters}{more}',
    refused: '{methods} {path} is not declared, falls through to {handler} with {parameters}, and is refused there with {status}',
  },
  advice: { type: 'Give the parameter of {other} a type that leaves this path out, or declare the method here.' },
  meta: {
    what: 'A path of its own that lacks a method which the more general pattern behind it has.',
    why: 'A DELETE of /locks/closed deletes the lock whose id is "closed", or fails with an error nobody understands, where 405 was expected.',
    example: '- GET /locks/closed -> locks.closed\n- DELETE /locks/{lockId} -> locks.delete       # handles DELETE /locks/closed',
    fix: 'Type the parameter, so that the word is no value of it.',
  },
  check: ({ router, service }) => {
    if (router === undefined) return [];
    return fallThroughs(router).map(({ route, others, methods, following }) => ({
      ...(following.outcome === 'refused' ? { level: 'error' as const } : {}),
      // A document says nothing of how its service routes.
      ...(service.tableIsDocument ? { level: 'note' as const, together: route.place.file } : {}),
      message: following.outcome === 'refused' ? 'refused' : 'lands',
      advice: 'type',
      data: {
        methods: methods.join(', '),
        path: route.path,
        handler: following.leaf?.route.handler ?? '',
        other: others[0]?.path ?? '',
        parameters: [...following.parameters].map(([name, { text }]) => `${name} = "${text}"`).join(', '),
        status: following.status ?? '',
      },
      at: spotOf(route),
      related: others.map((o) => ({ role: 'handled instead by', ...spotOf(o) })),
      witness: {
        kind: 'request' as const,
        request: following.request,
        takenBy: following.leaf?.route.handler ?? null,
        status: following.status,
      },
      restsOn: restsOn(router.facts, 'wrongMethod'),
    }));
  },
};

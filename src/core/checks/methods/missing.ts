import { type Missing, missingOf, USUAL_POLICY } from '../../contract/resources/method-policy.ts';
import type { Resource } from '../../contract/resources/resources.ts';
import { writtenParameter } from '../../paths/written.ts';
import type { Context } from '../engine/context.ts';
import { endpointSpot, witnessFor } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const missingMethod: Rule = {
  id: 'methods/missing',
  level: 'warning',
  messages: {
    create: '{path} can be created and not be {verbs}: {methods} is missing{more}',
    lacks: '{path} lacks {methods}{more}',
  },
  advice: {
    add: 'Add {first}, or say under methods: resources: of the settings that {path} has none.',
  },
  meta: {
    what: 'A method that the policy asks of a resource and that it does not have.',
    why: "What was created can't be read back, changed or deleted.",
    example: '- GET /passages -> passages.list\n- POST /passages -> passages.create       # and no GET /passages/{passageId}',
    fix: 'Add the method, or write the exception into the settings.',
  },
  check: (context) => context.resources().flatMap((resource) => report(context, resource)),
};

const VERBS = { list: 'listed', create: 'created', read: 'read back', replace: 'changed', modify: 'changed', delete: 'deleted' };

function report(context: Context, resource: Resource): readonly Found[] {
  const missing = missingOf(resource, context.service.policy ?? USUAL_POLICY);
  const [first] = missing;
  const [member] = resource.members;
  if (first === undefined || member === undefined) return [];
  const created = resource.members.some((m) => m.step === 'create');
  // What takes POST and nothing else, and has no items, is something that is done: /login, /search.
  if (created && resource.item === undefined && resource.members.every((m) => m.step === 'create')) return [];
  const style = context.service.tableIsDocument ? 'brace' : (context.service.table?.style ?? 'brace');
  const [verbs, rest] = [missing.filter((m) => m.of === 'item').map((m) => VERBS[m.step]), resource.path.text];
  const path = (m: Missing): string =>
    m.of === 'item' ? (resource.item?.text ?? `${rest}/${writtenParameter(style, 'id')}`) : rest;

  const at = resource.members.find((m) => m.role === first.of) ?? member;
  const witness =
    at.role === first.of && at.endpoint.path.tail === undefined
      ? witnessFor(context, at.endpoint, first.methods.split('|')[0])
      : undefined;
  return [
    {
      // Nobody asked for these methods: one remark, to be read by whoever wants them.
      ...(context.service.policy === undefined ? { level: 'note', together: endpointSpot(at.endpoint).place.file } : {}),
      message: created && verbs.length > 0 ? 'create' : 'lacks',
      advice: 'add',
      data: {
        path: rest,
        verbs: [...new Set(verbs)].join(' or '),
        methods: missing.map((m) => `${m.methods} ${path(m)}`).join(', '),
        first: `${first.methods} ${path(first)}`,
      },
      at: endpointSpot(at.endpoint),
      ...(witness === undefined ? {} : { witness }),
    },
  ];
}

import type { Endpoint } from '../../contract/pairing/endpoints.ts';
import type { Context } from '../engine/context.ts';
import { endpointSpot, endpointTitle, sameAs } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const undocumentedStatus: Rule = {
  id: 'methods/status',
  level: 'note',
  messages: {
    one: '{count} of {of} documented operations that {what} do not document {status}: {title}{more}',
  },
  advice: {
    add: 'Add the status with what it answers, or default: for all errors.',
  },
  meta: {
    what: 'A status that the kind of operation answers with and that its document does not have.',
    why: 'Clients meet an answer that nobody told them of, and have no type for its body.',
    example: 'GET /locks/{lockId} without a 404',
    fix: 'Document it where it can come.',
  },
  check: (context) => WANTED.flatMap((wanted) => report(context, wanted)),
};

interface Wanted {
  readonly status: string;
  readonly what: string;
  /** Any of these will do. */
  readonly enough: readonly string[];
  readonly of: (endpoint: Endpoint, step: string | undefined, role: string) => boolean;
}

const WANTED: readonly Wanted[] = [
  { status: '201', what: 'create', enough: ['201', '200', '202', '204', '303'], of: (_, step) => step === 'create' },
  { status: '204', what: 'delete', enough: ['204', '200', '202'], of: (_, step) => step === 'delete' },
  { status: '400', what: 'accept a body', enough: ['400', '422'], of: (e) => e.operation?.body !== undefined },
  { status: '404', what: 'speak of one item', enough: ['404', '410'], of: (_, __, role) => role === 'item' },
];

function report(context: Context, { status, what, enough, of }: Wanted): readonly Found[] {
  const all = context
    .resources()
    .flatMap((r) =>
      r.members
        .filter((m) => (m.endpoint.operation?.responses.length ?? 0) > 0 && of(m.endpoint, m.step, m.role))
        .map((m) => m.endpoint),
    );
  const has = ({ operation }: Endpoint): boolean =>
    operation?.responses.some((r) => enough.includes(r.status) || r.status === 'default' || r.status === `${status[0]}XX`) ??
    true;
  const [first, ...others] = all.filter((e) => !has(e));
  // Where most siblings don't, it is the document's way.
  if (first === undefined || (others.length + 1) * 2 > all.length) return [];
  const more = others.length === 0 ? '' : ` and ${others.length} more`;
  return [
    {
      message: 'one',
      advice: 'add',
      data: { count: others.length + 1, of: all.length, what, status, title: endpointTitle(first), more },
      at: endpointSpot(first),
      related: sameAs(others),
    },
  ];
}

import type { Rule } from '../engine/rule.ts';

export const basePath: Rule = {
  id: 'methods/base-path',
  level: 'error',
  messages: {
    table:
      'the paths of "{title}" lack the prefix {prefix} that the routes have: {paired} of its {of} paths fit once it is put before them',
    document:
      'the routes lack the prefix {prefix} that the paths of "{title}" have: {paired} of its {of} paths fit once it is removed',
  },
  advice: {
    table: 'Name the prefix in servers of the document, or take it off the routes; the other checks go on as if that were done.',
    document:
      'Set mount: {prefix} for the service, or correct servers in the document; the other checks go on as if that were done.',
  },
  meta: {
    what: 'A prefix that all paths of the table have and those of the document lack, or the reverse.',
    why: 'A client written from the document gets 404 for every single request.',
    example: 'servers: [{ url: https://desk.tarn-and-elm.example }]      # and every route stands below /v2',
    fix: 'Say the prefix once, in servers, or in mount: of the settings where a gateway adds it.',
  },
  check: (context) =>
    (context.pairing()?.shifts ?? []).map((shift) => ({
      message: shift.side,
      advice: shift.side,
      data: { title: shift.contract.title, prefix: shift.prefix, paired: shift.paired, of: shift.of },
      at: { place: { ...shift.contract.place, pointer: '/servers' }, what: shift.contract.title },
    })),
};

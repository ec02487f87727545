/** Findings about one parameter with a type on both sides; one for all operations with the same cause. */

import { grouped } from '../../base/grouped.ts';
import { percentEncoded } from '../../base/percent.ts';
import { operationTitle } from '../../contract/model/contract.ts';
import type { Typing } from '../../contract/pairing/parameter-types.ts';
import { filledPath } from '../../routes/examples/fill-path.ts';
import type { Router } from '../../routes/index/router.ts';
import type { Request } from '../../routes/request/request.ts';
import { type Context, spotOf, witnessOf } from '../engine/context.ts';
import type { Found, Level } from '../engine/finding.ts';

interface Verdict {
  readonly level?: Level;
  readonly message: string;
  readonly advice: string;
  /** The value that shows it. */
  readonly text: string | undefined;
}

/** One finding for each name and pair of types that `judge` speaks of. */
export function typingFindings(context: Context, judge: (typing: Typing) => Verdict | undefined): readonly Found[] {
  const { router } = context;
  if (router === undefined) return [];
  const judged = context.typings().flatMap((typing) => {
    const verdict = judge(typing);
    return verdict === undefined ? [] : [{ typing, verdict }];
  });
  const cause = ({ typing: { parameter, type, promised }, verdict }: (typeof judged)[number]): string =>
    [parameter.in, parameter.name, type, promised, verdict.message].join('\n');
  return grouped(judged, cause).map((group) => finding(router, group));
}

function finding(router: Router, group: readonly { readonly typing: Typing; readonly verdict: Verdict }[]): Found {
  const [{ typing, verdict }, ...others] = group as readonly [(typeof group)[number], ...typeof group];
  const { route, operation, parameter, name, type, promised } = typing;
  const related = [typing, ...others.map((o) => o.typing)];
  const routes = [...new Set(related.map((t) => t.route))].slice(1);
  return {
    ...(verdict.level === undefined ? {} : { level: verdict.level }),
    message: verdict.message,
    advice: verdict.advice,
    data: {
      place: parameter.in === 'path' ? 'the path parameter' : `the ${parameter.in} parameter`,
      name,
      type: type,
      promised,
      value: typing.refused ?? '',
      other: typing.undocumented ?? '',
      handler: route.handler,
    },
    at: spotOf(route),
    related: [
      { role: 'documented', place: parameter.place, what: operationTitle(operation) },
      ...routes.map((r) => ({ role: 'the same', ...spotOf(r) })),
    ],
    witness: witnessOf(router, requestWith(typing, verdict.text ?? '')),
  };
}

/** The whole request in which the value is sent. */
function requestWith({ route, operation, parameter, name }: Typing, text: string): Request {
  const base = { method: operation.method, headers: {} };
  switch (parameter.in) {
    case 'path':
      return { ...base, target: filledPath(route, new Map([[name, text]])) };
    case 'query':
      return { ...base, target: `${filledPath(route, new Map())}?${percentEncoded(name)}=${percentEncoded(text)}` };
    case 'cookie':
      return { ...base, target: filledPath(route, new Map()), headers: { Cookie: `${name}=${text}` } };
    default:
      return { ...base, target: filledPath(route, new Map()), headers: { [name]: text } };
  }
}

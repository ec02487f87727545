import { grouped } from '../../base/grouped.ts';
import type { Endpoint } from '../../contract/pairing/endpoints.ts';
import type { Versioned } from '../../contract/resources/api-versions.ts';
import type { Context } from '../engine/context.ts';
import { endpointSpot, sameAs, witnessFor } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const sunsetPassed: Rule = {
  id: 'versions/sunset-passed',
  level: 'warning',
  messages: {
    served: '{title}{more} was to end on {sunset}, and is still served on {today}',
  },
  advice: { end: 'Take it away, or announce another day.' },
  meta: {
    what: 'Something that is still served after its sunset.',
    why: 'Clients learn that an announced end means nothing, and the code behind it lives on.',
    example: '- route: GET /v1/tolls/quote\n  handler: tolls.quote\n  deprecated: 2026-01-31\n  sunset: 2026-06-30',
    fix: 'Remove the route, or answer 410.',
  },
  check: (context) => {
    const { today } = context.service;
    if (today === undefined) return [];
    const late = context.versioned().flatMap((v) => {
      const sunset = sunsetOf(context, v);
      return v.endpoint.route !== undefined && sunset !== undefined && sunset < today ? [{ endpoint: v.endpoint, sunset }] : [];
    });
    return grouped(late, (l) => `${l.sunset} ${l.endpoint.route?.origin.groups.join() ?? ''}`).map(([first, ...others]) =>
      found(
        context,
        first,
        others.map((o) => o.endpoint),
        today,
      ),
    );
  },
};

/** The earliest day that anybody named. */
function sunsetOf(context: Context, { endpoint: { route, operation }, by, ids }: Versioned): string | undefined {
  const whole =
    by === 'none'
      ? []
      : context
          .versions()
          .all.filter((v) => ids.includes(v.id))
          .map((v) => v.sunset);
  // Somebody who takes one of several versions is not over while another lasts.
  const version = whole.every((s) => s !== undefined) ? whole.sort().at(-1) : undefined;
  return [route?.sunset, operation?.sunset, version].filter((s) => s !== undefined).sort()[0];
}

function found(
  context: Context,
  { endpoint, sunset }: { endpoint: Endpoint; sunset: string },
  others: readonly Endpoint[],
  today: string,
): Found {
  const witness = witnessFor(context, endpoint);
  return {
    message: 'served',
    advice: 'end',
    data: {
      title: `${endpoint.method} ${endpoint.path.text}`,
      more: others.length === 0 ? '' : ` (and ${others.length} more)`,
      sunset,
      today,
    },
    at: endpointSpot(endpoint),
    related: sameAs(others),
    ...(witness === undefined ? {} : { witness }),
  };
}

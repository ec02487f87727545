/** Groups, resources and prefixes against a plain reading of the same entries, one route after the other. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { buildRouter } from '../../../../src/core/routes/index/router.ts';
import { runs } from '../../../runs.ts';
import { tableOf } from '../../tables.ts';

interface Said {
  readonly host?: string;
  readonly takes?: readonly string[];
  readonly deprecated?: boolean;
}
interface Plain extends Said {
  readonly route?: string;
  readonly within?: string;
  readonly resource?: string;
  readonly item?: string;
  readonly handler?: string;
  readonly name?: string;
  readonly names?: string;
  readonly handlers?: string;
  readonly serves?: readonly string[];
  readonly routes?: readonly (Plain | string)[];
  readonly below?: readonly (Plain | string)[];
}

const STEPS = { list: 'GET', create: 'POST', read: 'GET', replace: 'PUT', modify: 'PATCH', delete: 'DELETE' };
const said = fc.record(
  {
    host: fc.constantFrom('desk.canal.example', 'toll.canal.example'),
    takes: fc.constant(['text/csv']),
    deprecated: fc.boolean(),
  },
  { requiredKeys: [] },
);
const word = fc.constantFrom('locks', 'gates', 'basins');
const short = fc.tuple(fc.constantFrom('GET', 'POST', 'ANY'), word).map(([m, w]) => `${m} /${w} -> ${w}.${m.toLowerCase()}`);
const own = fc.record({ route: word.map((w) => `PUT /${w}`), handler: word, name: word }, { requiredKeys: ['route', 'handler'] });

const entries: fc.Arbitrary<readonly (Plain | string)[]> = fc.letrec((tie) => {
  const list = fc.array(tie('any') as fc.Arbitrary<Plain | string>, { minLength: 1, maxLength: 3 });
  const group = fc.record(
    {
      within: fc.constantFrom('/v2', '/', '', '/canal/'),
      names: fc.constant('n.'),
      handlers: fc.constantFrom('h.', 'g.'),
      routes: list,
    },
    { requiredKeys: ['within', 'routes'] },
  );
  const resource = fc.record(
    {
      resource: word.map((w) => `/${w}`),
      item: fc.constantFrom('{id:uint}', '{slug}'),
      handler: fc.constant('r'),
      name: word,
      serves: fc.subarray(Object.keys(STEPS)),
      below: list,
    },
    { requiredKeys: ['resource'] },
  );
  const saying = (some: fc.Arbitrary<object>): fc.Arbitrary<object> => fc.tuple(some, said).map(([a, b]) => ({ ...a, ...b }));
  return { any: fc.oneof({ maxDepth: 3 }, short, saying(own), saying(group), saying(resource)), list };
}).list as fc.Arbitrary<readonly (Plain | string)[]>;

const joined = (prefix: string, path: string): string =>
  `/${[prefix, path]
    .flatMap((p) => p.split('/'))
    .filter((s) => s !== '')
    .join('/')}`;

/** `POST /v2/locks h.create n.create desk.canal.example text/csv old`. */
function read(list: readonly (Plain | string)[], prefix = '', names = '', handlers = '', outer: Said = {}): readonly string[] {
  const line = (
    method: string,
    path: string,
    handler: string,
    name: string | undefined,
    { host, takes, deprecated }: Said,
  ): string =>
    [
      method,
      joined(prefix, path),
      handlers + handler,
      name === undefined ? '' : names + name,
      host,
      takes?.join(),
      deprecated ? 'old' : '',
    ].join(' ');
  return list.flatMap((entry): readonly string[] => {
    if (typeof entry === 'string') {
      const [, method = '', path = '', handler = ''] = /^(\S+) (\S+) -> (\S+)$/u.exec(entry) ?? [];
      return [line(method, path, handler, undefined, outer)];
    }
    const { host, takes, deprecated } = { ...outer, ...entry };
    const inner: Said = { ...(host && { host }), ...(takes && { takes }), ...(deprecated !== undefined && { deprecated }) };
    if (entry.route !== undefined) {
      const [method = '', path = ''] = entry.route.split(' ');
      return [line(method, path, entry.handler ?? '', entry.name, inner)];
    }
    if (entry.routes !== undefined)
      return read(
        entry.routes,
        joined(prefix, entry.within ?? ''),
        names + (entry.names ?? ''),
        handlers + (entry.handlers ?? ''),
        inner,
      );
    const base = entry.resource as string;
    const bare = base.slice(1);
    const item = joined(base, entry.item ?? `{${bare.slice(0, -1)}Id}`);
    const steps = Object.entries(STEPS).filter(([step]) => entry.serves?.includes(step) ?? true);
    return [
      ...steps.map(([step, method]) =>
        line(
          method,
          step === 'list' || step === 'create' ? base : item,
          `${entry.handler ?? bare}.${step}`,
          `${entry.name ?? bare}.${step}`,
          inner,
        ),
      ),
      ...read(entry.below ?? [], joined(prefix, item), names, handlers, inner),
    ];
  });
}

test('entries are the routes that a plain reading makes of them, in the same order', () => {
  let routes = 0;
  fc.assert(
    fc.property(entries, (list) => {
      const { table } = buildRouter(tableOf(list as never));
      const found = table.routes.map(({ methods, path, handler, name, conditions: { host, takes }, deprecated }) =>
        [methods.join('|'), joined('', path), handler, name ?? '', host, takes?.join(), deprecated === true ? 'old' : ''].join(
          ' ',
        ),
      );
      routes += found.length;
      // A value that stands twice in one pattern is told as a flaw, and the route is there all the same.
      expect(found).toEqual(read(list));
    }),
    { numRuns: runs(300) },
  );
  expect(routes).toBeGreaterThan(runs(1_000));
});

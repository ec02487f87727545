/** More real routers as judges, with what tells them apart: slashes, letter case, HEAD and OPTIONS, any method, mixed segments. */
import { Agent, createServer, request as send } from 'node:http';
import type { AddressInfo } from 'node:net';
import { Router as HapiRouter } from '@hapi/call';
import express from 'express';
import fc from 'fast-check';
import findMyWay from 'find-my-way';
import { Memoirist } from 'memoirist';
import { createRouter } from 'radix3';
import { Trouter } from 'trouter';
import { expect, test } from 'vitest';
import { duplicates } from '../../src/core/routes/findings/duplicates.ts';
import { shadowOf } from '../../src/core/routes/findings/shadow.ts';
import { follow } from '../../src/core/routes/follow/follow.ts';
import type { RoutingOutcome } from '../../src/core/routes/follow/outcome.ts';
import { buildRouter, type Router } from '../../src/core/routes/index/router.ts';
import type { RouterSettings } from '../../src/core/routes/table/router-facts.ts';
import { tableOf } from '../core/tables.ts';
import { PER_RUN, REQUESTS } from './judged.ts';

interface Entry {
  readonly method: string;
  /** Words, `:` for a parameter, `v:` and `:.json` and `:-:` for mixed segments, `*` for a tail at the end. */
  readonly words: readonly string[];
}

/** What a router makes of a request: a handler, or a status. */
interface Verdict {
  readonly handler?: string | undefined;
  readonly parameters?: Readonly<Record<string, string>>;
  readonly status?: number;
  readonly allow?: readonly string[];
}
type Judge = (method: string, target: string) => Verdict | undefined;

interface Kind {
  readonly facts: RouterSettings;
  readonly methods: readonly string[];
  readonly segments: readonly string[];
  readonly tail: string | undefined;
  /** How a word is written for us, where it is not the default. */
  readonly prune?: boolean;
}

/** Ours, in the brace style: parameters are p0, p1 by their place in the path. */
function pathOf({ words }: Entry, tail: string | undefined, parameter: (name: string) => string): string {
  let n = 0;
  const segments = words.map((w) => (w === '*' ? (tail as string) : w.replaceAll(':', () => parameter(`p${n++}`))));
  return `/${segments.join('/')}`;
}

const ours = (entry: Entry, tail: string | undefined): string => pathOf(entry, tail, (name) => `{${name}}`);
const colon = (entry: Entry, tail: string): string => pathOf(entry, tail, (name) => `:${name}`);
const brace = (entry: Entry, tail: string): string => pathOf(entry, tail, (name) => `{${name}}`);

function entries({ methods, segments, tail }: Kind): fc.Arbitrary<readonly Entry[]> {
  const word = fc.oneof(
    { weight: 3, arbitrary: fc.constantFrom('locks', 'closed', '7', 'v7') },
    { weight: 3, arbitrary: fc.constantFrom(...segments) },
  );
  const entry = fc.record({
    method: fc.constantFrom(...methods),
    words: fc
      .tuple(fc.array(word, { minLength: 1, maxLength: 3 }), fc.constantFrom(false, false, false, tail !== undefined))
      .map(([list, open]) => (open ? [...list, '*'] : list)),
  });
  return fc.array(entry, { minLength: 2, maxLength: 9 });
}

const WORDS = ['locks', 'closed', '7', 'a1', 'v7', 'x', 'v', '7.json', 'a-b', 'a-b-c', 'Locks'];
const requests = fc.array(
  fc.tuple(
    fc.constantFrom('GET', 'GET', 'POST', 'DELETE', 'HEAD', 'OPTIONS'),
    fc.array(fc.constantFrom(...WORDS), { minLength: 1, maxLength: 4 }),
    fc.constantFrom('', '', '', '/', '//'),
  ),
  { minLength: PER_RUN, maxLength: PER_RUN },
);

function routerOf(list: readonly Entry[], { facts, tail, prune }: Kind): { router: Router; kept: readonly Entry[] } {
  const build = (some: readonly Entry[]): Router =>
    buildRouter(
      tableOf(
        some.map((e, i) => `${e.method} ${ours(e, tail)} -> h${i}`),
        facts,
      ),
    );
  const copies = prune ? new Set(duplicates(build(list)).map((d) => d.route.index)) : new Set<number>();
  const kept = list.filter((_, i) => !copies.has(i));
  return { router: build(kept), kept };
}

function mine({ leaf, outcome, parameters, status, allow }: RoutingOutcome): Verdict | undefined {
  if (leaf !== undefined)
    return {
      handler: leaf.route.handler,
      parameters: Object.fromEntries([...parameters].flatMap(([n, { text }]) => (/^p\d/u.test(n) ? [[n, text]] : []))),
    };
  if (outcome === 'ambiguous') return { handler: 'ambiguous' };
  return { status: status ?? 200, ...(allow === null ? {} : { allow }) };
}

const own = (params: Readonly<Record<string, unknown>>): Record<string, string> =>
  Object.fromEntries(Object.entries(params).flatMap(([k, v]) => (/^p\d/u.test(k) && v !== undefined ? [[k, String(v)]] : [])));

/** Handlers and parameters agree, and no route that is called dead is reached. */
function agrees(kind: Kind, judgeOf: (list: readonly Entry[]) => Judge): void {
  fc.assert(
    fc.property(entries(kind), requests, (drawn, asked) => {
      const { router, kept } = routerOf(drawn, kind);
      const judge = judgeOf(kept);
      const table = kept.map((e) => `${e.method} ${ours(e, kind.tail)}`).join(', ');
      const dead = new Set(
        router.table.routes.flatMap((r) => ((shadowOf(router, r) as { whole?: boolean } | undefined)?.whole ? [r.handler] : [])),
      );
      for (const [method, words, end] of asked) {
        const target = `/${words.join('/')}${end}`;
        const said = mine(follow(router, { method, target, headers: {} }));
        if (said?.handler === 'ambiguous') continue;
        const theirs = judge(method, target);
        const shown = said?.handler === undefined ? undefined : { handler: said.handler, parameters: said.parameters };
        expect(shown, `${method} ${target} in ${table}`).toEqual(theirs);
        if (end !== '//' && theirs?.handler !== undefined)
          expect(dead.has(theirs.handler), `${theirs.handler} is called dead in ${table}, and takes ${method} ${target}`).toBe(
            false,
          );
      }
    }),
    { numRuns: Math.ceil(REQUESTS / PER_RUN) },
  );
}

test('@hapi/call: a tree for each method, HEAD before GET, any method last, mixed segments by their parts', () => {
  const kind: Kind = {
    facts: {
      precedence: 'most-specific',
      specificity: 'left-to-right',
      ties: 'first-declared',
      trees: 'per-method',
      anyMethod: 'last',
      head: 'before-get',
      options: 'declared',
      mixed: 'most-parts',
      split: 'longest',
    },
    methods: ['GET', 'GET', 'POST', 'HEAD', 'ANY'],
    segments: [':', ':', 'v:', ':.json', ':-:'],
    tail: '{rest*}',
    prune: true,
  };
  agrees(kind, (list) => {
    const router = new HapiRouter();
    list.forEach((e, i) => {
      const method = e.method === 'ANY' ? '*' : e.method.toLowerCase();
      try {
        router.add({ method, path: brace(e, '{rest*}') }, `h${i}` as never);
      } catch {
        // A table that it refuses cannot be judged: two tails behind one mixed segment are a conflict to it.
        fc.pre(false);
      }
    });
    return (method, target) => {
      const found = router.route(method.toLowerCase(), target) as { route?: string; params?: Record<string, string> };
      return found.route === undefined ? undefined : { handler: found.route, parameters: own(found.params ?? {}) };
    };
  });
});

test('memoirist: a tree for each method that comes back', () => {
  const kind: Kind = {
    facts: { precedence: 'most-specific', ties: 'first-declared', trees: 'per-method', head: 'declared', options: 'declared' },
    methods: ['GET', 'GET', 'POST'],
    segments: [':'],
    tail: '{rest:any}',
    prune: true,
  };
  agrees(kind, (list) => {
    const router = new Memoirist<string>();
    for (const [i, e] of list.entries()) router.add(e.method, colon(e, '*'), `h${i}`);
    return (method, target) => {
      const found = router.find(method, target);
      return found === null ? undefined : { handler: found.store, parameters: own(found.params) };
    };
  });
});

test('radix3: comes back to the last tail alone, and slashes at the end say nothing', () => {
  const kind: Kind = {
    facts: {
      precedence: 'most-specific',
      ties: 'first-declared',
      deadEnds: 'last-tail',
      trailingSlash: 'ignored',
      emptyValue: 'accepted',
      head: 'declared',
      options: 'declared',
    },
    methods: ['GET'],
    segments: [':'],
    tail: '{rest:any}',
    prune: true,
  };
  agrees(kind, (list) => {
    const router = createRouter<{ handler: string }>();
    for (const [i, e] of list.entries()) router.insert(colon(e, '**:rest'), { handler: `h${i}` });
    return (method, target) => {
      const found = method === 'GET' ? router.lookup(target) : null;
      // It tells the parameters of what it tried on the way too, and those alone where no route ends.
      const entry = list[Number(found?.handler?.slice(1))];
      if (found?.handler === undefined || entry === undefined) return undefined;
      const names = entry.words.flatMap((w, n) =>
        w === ':' ? [`p${entry.words.slice(0, n).filter((x) => x === ':').length}`] : [],
      );
      const parameters = own(found.params ?? {});
      return { handler: found.handler, parameters: Object.fromEntries(names.map((n) => [n, parameters[n] as string])) };
    };
  });
});

test('trouter: the first declared, HEAD by GET in order, either letter case, a slash that may be added', () => {
  const kind: Kind = {
    facts: {
      precedence: 'first-declared',
      letterCase: 'either',
      trailingSlash: 'may-add',
      head: 'follows-get',
      options: 'declared',
    },
    methods: ['GET', 'GET', 'POST', 'HEAD', 'ANY'],
    segments: [':'],
    tail: undefined,
  };
  agrees(kind, (list) => {
    const router = new Trouter<string>();
    for (const [i, e] of list.entries()) router.add((e.method === 'ANY' ? '' : e.method) as 'GET', colon(e, '*'), `h${i}`);
    return (method, target) => {
      const { handlers } = router.find(method as 'GET', target);
      const handler = handlers[0];
      // It puts the parameters of all that match into one, so that only the handler is the first one's.
      const all = handlers.length === 1 ? own(router.find(method as 'GET', target).params) : undefined;
      const entry = handler === undefined ? undefined : list[Number(handler.slice(1))];
      if (entry === undefined || handler === undefined) return undefined;
      return { handler, parameters: all ?? bound(colon(entry, '*'), target) };
    };
  });
});

/** The parameters of one colon pattern, segment by segment. */
function bound(pattern: string, target: string): Record<string, string> {
  const words = target.split('/');
  return Object.fromEntries(pattern.split('/').flatMap((w, i) => (w.startsWith(':') ? [[w.slice(1), words[i] as string]] : [])));
}

test('find-my-way with a longest value: the search ends at a value that is too long', () => {
  const kind: Kind = {
    facts: {
      precedence: 'most-specific',
      ties: 'first-declared',
      trees: 'per-method',
      emptyValue: 'accepted',
      head: 'declared',
      options: 'declared',
      longestValue: 2,
      tooLong: '414',
    },
    methods: ['GET', 'GET', 'POST'],
    segments: [':'],
    tail: undefined,
    prune: true,
  };
  agrees(kind, (list) => {
    const router = findMyWay({ caseSensitive: true, maxParamLength: 2 });
    for (const [i, e] of list.entries()) router.on(e.method as 'GET', colon(e, '*'), (() => undefined) as never, `h${i}`);
    return (method, target) => {
      const found = router.find(method as 'GET', target);
      if (found === null || found.store === undefined) return undefined;
      return { handler: found.store as string, parameters: own(found.params) };
    };
  });
});

/** Groups are routers of their own: a prefix, and how many of the entries that follow are in it. */
interface Group {
  readonly prefix: string | undefined;
  readonly entries: readonly Entry[];
}

const EXPRESS: Kind = {
  facts: {
    precedence: 'first-declared',
    letterCase: 'either',
    trailingSlash: 'either',
    decoding: 'values-only',
    head: 'follows-get',
    options: 'by-group',
    noMethod: '404',
  },
  methods: ['GET', 'GET', 'POST', 'HEAD', 'ANY', 'OPTIONS'],
  segments: [':'],
  tail: '{rest:path}',
};

test('express, over HTTP: groups end OPTIONS, slashes and letter case do not count', async () => {
  const groups = fc.array(
    fc.record({ prefix: fc.constantFrom(undefined, undefined, '/locks', '/7'), entries: entries(EXPRESS) }),
    { minLength: 1, maxLength: 3 },
  );
  const agent = new Agent({ keepAlive: true, maxSockets: 1 });
  await fc.assert(
    fc.asyncProperty(groups, requests, async (list, asked) => {
      const router = buildRouter(tableOf(asGroups(list) as never, EXPRESS.facts));
      const server = createServer(expressOf(list));
      await new Promise<void>((ready) => {
        server.listen(0, '127.0.0.1', ready);
      });
      const { port } = server.address() as AddressInfo;
      try {
        for (const [method, words, end] of asked) {
          if (end === '//') continue;
          const target = `/${words.join('/')}${end}`;
          const said = mine(follow(router, { method, target, headers: {} }));
          const theirs = await ask(agent, port, method, target);
          expect(
            said?.handler === undefined ? { status: said?.status, allow: listed(said?.allow) } : { handler: said.handler },
            `${method} ${target} in ${JSON.stringify(asGroups(list))}`,
          ).toEqual(
            theirs.handler === undefined ? { status: theirs.status, allow: listed(theirs.allow) } : { handler: theirs.handler },
          );
        }
      } finally {
        server.closeAllConnections();
        server.close();
      }
    }),
    { numRuns: Math.ceil(REQUESTS / PER_RUN / 4) },
  );
  agent.destroy();
});

/** Express leaves out OPTIONS, which it answers itself. */
const listed = (allow: readonly string[] = []): string =>
  allow
    .filter((m) => m !== 'OPTIONS')
    .sort()
    .join();

function asGroups(list: readonly Group[]): readonly unknown[] {
  let n = 0;
  return list.flatMap(({ prefix, entries: some }): readonly unknown[] => {
    const routes = some.map((e) => `${e.method} ${ours(e, EXPRESS.tail)} -> h${n++}`);
    return prefix === undefined ? routes : [{ within: prefix, routes }];
  });
}

function expressOf(list: readonly Group[]): ReturnType<typeof express> {
  const app = express();
  let n = 0;
  const add = (router: express.Router | ReturnType<typeof express>, e: Entry): void => {
    const handler = `h${n++}`;
    const path = colon(e, '*rest');
    const answer = (_: unknown, response: express.Response): void => {
      response.set('X-Handler', handler).end();
    };
    const methods = router as unknown as Record<string, (p: string, h: typeof answer) => void>;
    methods[e.method === 'ANY' ? 'all' : e.method.toLowerCase()]?.(path, answer);
  };
  for (const { prefix, entries: some } of list) {
    const router = prefix === undefined ? app : express.Router();
    for (const e of some) add(router, e);
    if (prefix !== undefined) app.use(prefix, router as express.Router);
  }
  return app;
}

function ask(agent: Agent, port: number, method: string, path: string): Promise<Verdict> {
  return new Promise((answered, failed) => {
    const asked = send({ agent, port, host: '127.0.0.1', method, path }, (response) => {
      response.resume();
      response.on('end', () => {
        const handler = response.headers['x-handler'];
        const allow = response.headers.allow?.split(/,\s*/u).sort() ?? [];
        answered(
          typeof handler === 'string'
            ? { handler }
            : { status: response.statusCode ?? 0, allow: allow.length === 0 ? [] : [...new Set(allow)].sort() },
        );
      });
    });
    asked.on('error', failed);
    asked.end();
  });
}

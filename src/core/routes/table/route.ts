/** Routes and the table they stand in. */

import type { Place } from '../../base/place.ts';
import type { Pattern, PatternError, Style } from '../../paths/pattern.ts';
import type { NamedTypes, ParameterType } from '../../paths/types.ts';
import type { Facts } from './router-facts.ts';

export const ANY_METHOD = 'ANY';

/** The conventional routes of a resource, in the order in which they expand. */
export const STEPS = ['list', 'create', 'read', 'replace', 'modify', 'delete'] as const;
export type CrudStep = (typeof STEPS)[number];

/** What a request must bring besides its path and method; a route without a condition takes any. */
export interface Conditions {
  readonly version?: readonly string[];
  readonly host?: string;
  readonly takes?: readonly string[];
  readonly returns?: readonly string[];
  readonly headers?: Readonly<Record<string, string>>;
  readonly query?: Readonly<Record<string, string>>;
}

/** How a route came into the table, from the outermost group inwards. */
export interface Origin {
  readonly groups: readonly string[];
  /** The group entries themselves, by file and pointer. */
  readonly within: readonly string[];
  readonly resource?: { readonly base: string; readonly step: CrudStep };
  readonly include?: string;
  /** The source from which it was read. */
  readonly from?: string;
  /** The source does not say for which methods it is. */
  readonly methodsUnknown?: boolean;
}

export interface Route {
  /** Its place in the declared order, from 0. */
  readonly index: number;
  /** Upper case; `ANY` alone stands for every method. */
  readonly methods: readonly string[];
  /** The full path as it is written, prefixes included. */
  readonly path: string;
  readonly pattern: Pattern;
  readonly handler: string;
  readonly name: string | undefined;
  readonly conditions: Conditions;
  readonly deprecated: boolean | string | undefined;
  readonly sunset: string | undefined;
  readonly summary: string | undefined;
  readonly origin: Origin;
  /** The types that the handler wants, by parameter. */
  readonly handlerTypes: ReadonlyMap<string, ParameterType>;
  /** Not a route at all: the end of a group behind which nothing is looked for. */
  readonly isBarrier: boolean;
  readonly place: Place;
}

const NO_WANTS: ReadonlyMap<string, ParameterType> = new Map();

/** A route that says nothing beyond its methods, path and handler. */
export function bareRoute(fields: Pick<Route, 'index' | 'methods' | 'path' | 'pattern' | 'handler' | 'place'>): Route {
  return {
    ...fields,
    name: undefined,
    conditions: {},
    deprecated: undefined,
    sunset: undefined,
    summary: undefined,
    origin: { groups: [], within: [] },
    handlerTypes: NO_WANTS,
    isBarrier: false,
  };
}

/** Something wrong with one route of the table; the route is left out when its pattern can't be read at all. */
export interface Flaw {
  readonly kind: 'pattern' | 'twice-named' | 'unreadable' | 'line' | 'style';
  readonly route: string;
  readonly pattern: string;
  readonly error: PatternError;
  readonly place: Place;
  readonly other?: { readonly what: string; readonly place: Place };
}

export interface RouteTable {
  readonly service: string;
  readonly style: Style;
  readonly facts: Facts;
  readonly types: NamedTypes;
  readonly routes: readonly Route[];
  readonly flaws: readonly Flaw[];
  readonly place: Place;
}

/** `GET|HEAD /locks/{lockId}`: how a route is named in a sentence. */
export function routeTitle(route: Pick<Route, 'methods' | 'path'>): string {
  return `${route.methods.join('|')} ${route.path}`;
}

/** `GET /locks/{lockId} -> locks.read`, as the table's short form writes it. */
export function routeLine(route: Pick<Route, 'methods' | 'path' | 'handler'>): string {
  return `${routeTitle(route)} -> ${route.handler}`;
}

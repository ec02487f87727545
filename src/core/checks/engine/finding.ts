/** Findings, and the rules that make them. A finding carries facts; its words come from its rule, in one place. */
import type { Place } from '../../base/place.ts';
import type { RecordedUse } from '../../base/recorded-use.ts';
import type { Request } from '../../routes/request/request.ts';
import type { RestsOn } from '../../routes/table/router-facts.ts';

export const LEVELS = ['error', 'warning', 'note'] as const;
export type Level = (typeof LEVELS)[number];

/** Is a level as serious as another one, or more? */
export function isAtLeast(level: Level, least: Level): boolean {
  return LEVELS.indexOf(level) <= LEVELS.indexOf(least);
}

/** For sorting, the most serious first. */
export function byLevel(a: { readonly level: Level }, b: { readonly level: Level }): number {
  return LEVELS.indexOf(a.level) - LEVELS.indexOf(b.level);
}

/** A place and what stands there. */
export interface Spot {
  readonly place: Place;
  readonly what: string;
}

/** A request that shows the finding, and what becomes of it. */
export interface RequestWitness {
  readonly kind: 'request';
  readonly request: Request;
  /** The handler that gets it; null when nobody does. */
  readonly takenBy: string | null;
  /** What is answered when nobody takes it. */
  readonly status: number | null;
}

/** A JSON value that shows the finding: what `validUnder` takes and `invalidUnder` refuses. */
export interface ValueWitness {
  readonly kind: 'value';
  readonly value: unknown;
  readonly validUnder: string;
  readonly invalidUnder: string;
}

export type Witness = RequestWitness | ValueWitness;

export type Data = Readonly<Record<string, string | number>>;

export interface Found {
  readonly level?: Level;
  /** Which of the rule's messages, and of its advice. */
  readonly message: string;
  readonly advice: string;
  readonly data: Data;
  readonly at: Spot;
  readonly related?: readonly (Spot & { readonly role: string })[];
  readonly witness?: Witness;
  readonly restsOn?: readonly RestsOn[];
  /** Why it could not be decided. */
  readonly undecided?: string;
  /** Those of one rule with the same text here are one finding with all their places; `{more}` says how many more. */
  readonly together?: string;
  /** What the findings that were merged into this one have in common; undefined for a finding by itself. */
  readonly group?: string;
}

export interface Finding extends Found {
  readonly rule: string;
  readonly level: Level;
  readonly service: string;
  /** The recorded requests that meet it, where logs were read. */
  readonly recorded?: RecordedUse | undefined;
}

/** Puts a finding's data into a template. */
export function fill(template: string, data: Data): string {
  return template.replace(/\{(\w+)\}/gu, (whole, name: string) => (Object.hasOwn(data, name) ? String(data[name]) : whole));
}

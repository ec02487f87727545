/** What a service promises, whatever edition of OpenAPI it is written in. */
import type { Place } from '../place.ts';

export const METHODS = ['get', 'put', 'post', 'delete', 'options', 'head', 'patch', 'trace'] as const;

export interface Parameter {
  readonly name: string;
  readonly in: 'path' | 'query' | 'header' | 'cookie';
  readonly required: boolean;
  readonly place: Place;
}

export interface Operation {
  /** Upper case. */
  readonly method: string;
  /** The path template as written, without the base path. */
  readonly path: string;
  readonly id: string | undefined;
  readonly parameters: readonly Parameter[];
  readonly deprecated: boolean;
  readonly place: Place;
}

/** A part of the document that can't be used; the rest is. */
export interface DocumentFlaw {
  readonly message: string;
  readonly place: Place;
}

export interface Contract {
  /** `2.0`, `3.0`, `3.1`, `3.2`. */
  readonly edition: string;
  readonly title: string;
  readonly version: string | undefined;
  /** The paths of the servers, without a slash at the end; `''` alone where none is named. */
  readonly bases: readonly string[];
  readonly operations: readonly Operation[];
  readonly flaws: readonly DocumentFlaw[];
  readonly place: Place;
}

/** `GET /locks/{lockId}`. */
export function operationTitle(operation: Pick<Operation, 'method' | 'path'>): string {
  return `${operation.method} ${operation.path}`;
}

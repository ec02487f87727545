/** What a service promises, whatever edition of OpenAPI it is written in. */
import type { Place } from '../../base/place.ts';
import type { Schema } from '../../schema/model/schema.ts';

/** `body` and `formData` of OpenAPI 2.0 become a request body. */
export const PARAMETER_PLACES = ['path', 'query', 'header', 'cookie', 'querystring'] as const;
export type ParameterIn = (typeof PARAMETER_PLACES)[number];

/** How a list or an object is written into one text (OpenAPI 3.1, 4.8.12; `tabs` is OpenAPI 2.0's `tsv`). */
export type ParameterStyle =
  | 'simple'
  | 'label'
  | 'matrix'
  | 'form'
  | 'spaceDelimited'
  | 'pipeDelimited'
  | 'deepObject'
  | 'cookie'
  | 'tabs';

export interface Parameter {
  readonly name: string;
  readonly in: ParameterIn;
  readonly required: boolean;
  /** Undefined where a path parameter does not say so, though it has to. */
  readonly saysRequired: boolean;
  readonly deprecated: boolean;
  readonly style: ParameterStyle;
  readonly explode: boolean;
  readonly schema: Schema | undefined;
  /** The media type that the value is written in, in place of a style. */
  readonly content: Media | undefined;
  readonly examples: readonly unknown[];
  readonly place: Place;
}

/** One media type of a body. */
export interface Media {
  /** As written, a range such as `image/*` too. */
  readonly type: string;
  readonly schema: Schema | undefined;
  readonly examples: readonly unknown[];
  /** How properties of a form are written, where something is said of it. */
  readonly encoding?: ReadonlyMap<string, Encoding>;
  readonly place: Place;
}

/** How one property of a form is written (3.1, 4.8.15). */
export interface Encoding {
  /** Media types and ranges of a part; undefined where what the property holds tells. */
  readonly types: readonly string[] | undefined;
  readonly style: ParameterStyle;
  readonly explode: boolean;
  readonly place: Place;
}

export interface Body {
  readonly required: boolean;
  /** In declared order. */
  readonly content: readonly Media[];
  readonly place: Place;
}

export interface Header {
  readonly name: string;
  readonly required: boolean;
  readonly deprecated: boolean;
  readonly schema: Schema | undefined;
  readonly place: Place;
}

export interface Link {
  readonly name: string;
  readonly operationId: string | undefined;
  readonly parameters: Readonly<Record<string, unknown>>;
}

/** Its place is where it is declared, which many operations may refer to; so are those of all parts below. */
export interface Response {
  /** `200`, `2XX` or `default`. */
  readonly status: string;
  readonly headers: readonly Header[];
  readonly content: readonly Media[];
  readonly links: readonly Link[];
  readonly place: Place;
}

/** All schemes of one alternative are needed together, each with its scopes. */
export type SecurityNeed = readonly NeededScheme[];

export interface NeededScheme {
  readonly name: string;
  readonly scopes: readonly string[];
  readonly scheme: Scheme;
}

/** A security scheme, as far as a client notices. */
export interface Scheme {
  /** What is sent, in words; the same for the same credentials. */
  readonly credentials: string;
  /** Where a client may get them, each by itself. */
  readonly sources: readonly string[];
  readonly place: Place;
}

export interface Operation {
  /** Upper case. */
  readonly method: string;
  /** The path template as written, without the base path. */
  readonly path: string;
  readonly id: string | undefined;
  readonly summary: string | undefined;
  readonly tags: readonly string[];
  /** Those of the path among them, an operation's own in their place. */
  readonly parameters: readonly Parameter[];
  readonly body: Body | undefined;
  readonly responses: readonly Response[];
  /** Alternatives; an empty one means that nothing is needed, no alternative at all that nothing is said. */
  readonly security: readonly SecurityNeed[];
  /** Whether it or the document says anything of security; `security: []` does. */
  readonly saysSecurity: boolean;
  /** Where that is said: of it alone, or of all operations. */
  readonly securityPlace: Place;
  /** What the service calls the client back with; the path is its name, and an expression that says where. */
  readonly callbacks: readonly Operation[];
  readonly deprecated: boolean;
  readonly sunset: string | undefined;
  /** The paths of the operation's servers, where it has its own. */
  readonly bases: readonly string[] | undefined;
  readonly place: Place;
  /** How it, or this part of it, is written like another. */
  readonly alike?: (other: Operation, part?: 'parameters' | 'security') => TextEquality;
}

/**
 * The same but for words, with all that it refers to; the same but for schemas that stand elsewhere; or something of which
 * nothing is known.
 */
export type TextEquality = 'same' | 'schemas' | 'unlike';

/** A part of the document that can't be used; the rest is. */
export interface DocumentFlaw {
  readonly kind: 'malformed' | 'reference' | 'remote' | 'misspelt';
  readonly message: string;
  readonly place: Place;
}

export interface Contract {
  readonly title: string;
  /** `info.version`. */
  readonly version: string | undefined;
  /** The paths of the servers, without a slash at the end; `''` alone where none is named. */
  readonly bases: readonly string[];
  /** The schemes and hosts of the servers; none where all are relative. */
  readonly hosts?: readonly string[];
  readonly operations: readonly Operation[];
  /** What a service calls its clients back with; nobody sends these to it. */
  readonly webhooks: readonly Operation[];
  /** The names of the declared security schemes. */
  readonly schemes: ReadonlySet<string>;
  /** The schemas of `components`, by name. */
  readonly schemas: ReadonlyMap<string, Schema>;
  /** What was found wrong so far; reading is lazy, so that more may be found when schemas are looked at. */
  readonly flaws: readonly DocumentFlaw[];
  readonly place: Place;
  /** Does it stand in one file, in which nothing is read-only or write-only? O(its text), once. */
  readonly sideless?: boolean;
}

/** `GET /locks/{lockId}`. */
export function operationTitle(operation: Pick<Operation, 'method' | 'path'>): string {
  return `${operation.method} ${operation.path}`;
}

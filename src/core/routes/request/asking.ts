/** A request with what is read out of it once, and what a document says of media types. */
import type { Request } from './request.ts';
import type { RequestedVersion } from './requested-version.ts';
/** The media types that a document gives an operation; an empty list where it names none. */
export interface Described {
  readonly takes: readonly string[];
  readonly returns: readonly string[];
}

/** Routes that declare nothing on one side: it is unknown whether they take or return what a request is about. */
export interface Open {
  /** `3 takes` for the route at index 3. */
  readonly key: string;
  readonly words: string;
}

/** A request with what is read out of it once. */
export interface RequestContext {
  readonly request: Request;
  readonly host: string | undefined;
  readonly query: URLSearchParams;
  readonly version: RequestedVersion | undefined;
  /** What Accept, or a suffix such as `.json`, asks for. */
  readonly accept: string | undefined;
  /** What Content-Type says of a body; bytes where it says nothing (RFC 9110, 8.3). */
  readonly sent: string | undefined;
  /** Where nobody knows what routes take and return that declare nothing: those that are held to refuse. */
  readonly refusing?: ReadonlySet<string>;
  /** There too: those of which it mattered. */
  readonly open?: Open[];
}

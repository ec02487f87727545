/** Requests as the tool speaks of them, and how one is put together from texts. */

export interface Request {
  readonly method: string;
  readonly target: string;
  /** Names in any case; one value each. */
  readonly headers: Readonly<Record<string, string>>;
  readonly body?: string;
}

/** How many recorded requests something concerns. */
export interface RecordedUse {
  readonly requests: number;
  /** Of so many. */
  readonly of: number;
  /** Those that ask most first. */
  readonly clients: readonly string[];
  /** `2027-03-14`; null where no record has a time. */
  readonly last: string | null;
  /** What decides it was not recorded for some of them: fewer may be concerned. */
  readonly isAtMost: boolean;
}

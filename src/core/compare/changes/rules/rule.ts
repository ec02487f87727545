/** What a change means, whatever it is of. */
export interface ChangeRule {
  /** What it is called, in words where that depends on something. */
  readonly effect: string;
  /** One line. */
  readonly what: string;
  readonly why: string;
  readonly fix: string;
}

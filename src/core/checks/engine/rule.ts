/** What a rule is. */
import type { Context } from './context.ts';
import type { Found, Level } from './finding.ts';

export interface Rule {
  readonly id: string;
  readonly level: Level;
  /** Sentences with `{name}` for the finding's data. */
  readonly messages: Readonly<Record<string, string>>;
  readonly advice: Readonly<Record<string, string>>;
  readonly meta: {
    /** One line: what it finds. */
    readonly what: string;
    /** Why that hurts. */
    readonly why: string;
    /** A piece of a route table or document that shows it, in the canal's world. */
    readonly example: string;
    readonly fix: string;
  };
  readonly check: (context: Context) => readonly Found[];
}

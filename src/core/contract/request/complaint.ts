/** What is wrong with a request, by its document. */
import type { Parameter } from '../model/contract.ts';

export interface RequestError {
  readonly in: Parameter['in'] | 'body';
  /** The parameter; `''` for a body. */
  readonly name: string;
  /** Into the body or the parameter's value. */
  readonly pointer: string;
  readonly message: string;
  /** What was probably meant. */
  readonly suggestion: string | undefined;
  /** What is answered for it; null where servers pass over it. */
  readonly status: number | null;
}

/** Rules that look at one document alone. */
import { memoise } from '../../base/memo.ts';
import type { Contract } from '../../contract/model/contract.ts';
import type { Found } from './finding.ts';
import type { Rule } from './rule.ts';

/** What a rule finds in each document of a service, remembered as long as the document is the same. */
export function inEachDocument(find: (contract: Contract) => readonly Found[]): Rule['check'] {
  const remembered = memoise(find);
  return ({ service }) => service.contracts.flatMap(remembered);
}

/** What the reader found wrong with the documents of a service, as findings of the three rules of this folder. */
import type { DocumentFlaw } from '../../contract/model/contract.ts';
import { schemasOf } from '../../contract/model/visit.ts';
import type { Context } from '../engine/context.ts';
import type { Found } from '../engine/finding.ts';

/** The flaws of some kinds. Reading is lazy, so every schema is read first. */
export function flawsOf(context: Context, kinds: readonly DocumentFlaw['kind'][], advice: string): readonly Found[] {
  return context.service.contracts.flatMap((contract) => {
    schemasOf(contract);
    return contract.flaws
      .filter((f) => kinds.includes(f.kind))
      .map(({ kind, message, place }) => ({
        message: kind === 'remote' ? 'remote' : 'part',
        advice,
        data: { problem: message },
        at: { place, what: contract.title },
        ...(kind === 'remote' ? { level: 'note' as const } : {}),
      }));
  });
}

/** What a contract is made of. */
import { memoise } from '../../base/memo.ts';
import type { Schema } from '../../schema/model/schema.ts';
import { reachable } from '../../schema/model/subschemas.ts';
import type { Contract, Media, Operation } from './contract.ts';

/** All media types of an operation, requests first. */
export function mediaOf(operation: Operation): readonly Media[] {
  return [...(operation.body?.content ?? []), ...operation.responses.flatMap((r) => r.content)];
}

/** All schemas of a contract, each once. This reads every one of them. */
export const schemasOf: (contract: Contract) => readonly Schema[] = memoise((contract) => {
  const operations = [...contract.operations, ...contract.webhooks];
  // Reading these finds their flaws.
  for (const o of operations) for (const list of [o.security, o.tags, o.bases]) list?.length;
  const roots = operations.flatMap((o) => [
    ...o.parameters.map((p) => p.schema),
    ...mediaOf(o).map((m) => m.schema),
    ...o.responses.flatMap((r) => r.headers.map((h) => h.schema)),
  ]);
  return reachable([...roots, ...contract.schemas.values()].filter((s) => s !== undefined));
});

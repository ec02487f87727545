/** Which router fact would explain answers that contradict the model. */
import { follow } from '../routes/follow/follow.ts';
import { variantOf } from '../routes/index/variants.ts';
import { FACT_NAMES, FACTS } from '../routes/table/router-facts.ts';
import { type Contradiction, judgedStatus } from './survey.ts';

/**
 * Values of facts, each as `fact: value or value`, under which the kept requests would have been answered as they were.
 * O(facts x values x requests), each followed once.
 */
export function explained({ samples }: Pick<Contradiction, 'samples'>): readonly string[] {
  const [first] = samples;
  if (first === undefined) return [];
  const { facts } = first.router;
  return FACT_NAMES.flatMap((fact) => {
    const values = (FACTS[fact].values as readonly string[])
      .filter((value) => value !== String(facts[fact]))
      .filter((value) =>
        samples.every(({ router, record }) => {
          const following = follow(variantOf(router, fact, value), record.request);
          return record.status !== undefined && judgedStatus(following, record.status).verdict === 'agrees';
        }),
      );
    return values.length === 0 ? [] : [`${fact}: ${values.join(' or ')}`];
  });
}

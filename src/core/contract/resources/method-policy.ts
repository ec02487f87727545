/** Which methods a resource should have. */
import { isReadOnly, type Resource, type Step } from './resources.ts';

export interface Policy {
  /** Alternatives are separated by `|`. */
  readonly collection: readonly string[];
  readonly item: readonly string[];
  /** Others for single resources, by path. */
  readonly resources: Readonly<
    Record<string, { readonly collection?: readonly string[] | undefined; readonly item?: readonly string[] | undefined }>
  >;
}

export const USUAL_POLICY: Policy = { collection: ['GET', 'POST'], item: ['GET', 'PUT|PATCH', 'DELETE'], resources: {} };

export interface Missing {
  /** `PUT|PATCH` where either would do. */
  readonly methods: string;
  readonly step: Step;
  readonly of: 'collection' | 'item';
}

const STEP_OF = {
  collection: { GET: 'list', POST: 'create' },
  item: { GET: 'read', PUT: 'replace', PATCH: 'modify', DELETE: 'delete' },
} as const;

/**
 * What a resource lacks. One that is only read throughout lacks nothing else; one whose items can't be created is not
 * asked for the methods of an item; a singleton is asked for nothing.
 */
export function missingOf(resource: Resource, policy: Policy): readonly Missing[] {
  const own = policy.resources[resource.path.text];
  if (own === undefined && (resource.kind === 'singleton' || isReadOnly(resource))) return [];
  const has = (role: 'collection' | 'item'): ReadonlySet<string> =>
    new Set(resource.members.filter((m) => m.role === role).map((m) => m.endpoint.method));
  const [collection, item] = [has('collection'), has('item')];
  if (resource.members.some((m) => m.step === 'modify')) (item as Set<string>).add('PATCH');
  const lacks = (wanted: readonly string[], found: ReadonlySet<string>, of: 'collection' | 'item'): readonly Missing[] =>
    wanted
      .filter((w) => !found.has('ANY') && !w.split('|').some((m) => found.has(m)))
      .map((methods) => ({ methods, step: stepOf(methods.split('|')[0] as string, of), of }));
  const outside = collection.size === 0 && own === undefined;
  const alone = item.size === 0 && !collection.has('POST') && own === undefined;
  return [
    ...(outside ? [] : lacks(own?.collection ?? policy.collection, collection, 'collection')),
    ...(alone ? [] : lacks(own?.item ?? policy.item, item, 'item')),
  ];
}

function stepOf(method: string, of: 'collection' | 'item'): Step {
  const steps: Readonly<Record<string, Step>> = STEP_OF[of];
  return steps[method] ?? (of === 'collection' ? 'list' : 'read');
}

/** Names such as people would give. */
export const SAMPLE_NAMES = ['extra', 'other', 'more', 'note', 'x-extra', 'Extra', 'extra1', '7', '_', 'é'];

/** A name that is not declared. */
export function freshName(names: ReadonlySet<string>): string {
  let name = 'extra';
  while (names.has(name)) name += '1';
  return name;
}

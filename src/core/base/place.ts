/** Where something stands. Line and column are looked up when it is shown, from the pointer. */
export interface Place {
  readonly file: string;
  /** A JSON pointer (RFC 6901) into the file's value; the empty text is the whole of it. */
  readonly pointer: string;
  /** From 1, in a file that has lines and no values: a listing, source code. */
  readonly line?: number;
  readonly column?: number;
}

/** One more step of a JSON pointer. */
export function appendPointer(pointer: string, ...keys: readonly (string | number)[]): string {
  let out = pointer;
  for (const key of keys) out += `/${escapePointerToken(String(key))}`;
  return out;
}

/** One step of a JSON pointer. */
export function escapePointerToken(key: string): string {
  return key.includes('/') || key.includes('~') ? key.replaceAll('~', '~0').replaceAll('/', '~1') : key;
}

/** The keys of a JSON pointer. */
export function pointerKeys(pointer: string): readonly string[] {
  if (pointer === '') return [];
  const keys = pointer.slice(1).split('/');
  return pointer.includes('~') ? keys.map((k) => k.replaceAll('~1', '/').replaceAll('~0', '~')) : keys;
}

/** The name of the schema of a document that stands at a place; undefined where none of them does. */
export function componentName({ pointer }: Place): string | undefined {
  const [, name] = /^\/(?:components\/schemas|definitions)\/([^/]+)$/u.exec(pointer) ?? [];
  return name === undefined ? undefined : pointerKeys(`/${name}`)[0];
}

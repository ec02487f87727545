/** Where something stands. Line and column are looked up when it is shown, from the pointer. */
export interface Place {
  readonly file: string;
  /** A JSON pointer (RFC 6901) into the file's value; the empty text is the whole of it. */
  readonly pointer: string;
}

/** One more step of a JSON pointer. */
export function below(pointer: string, ...keys: readonly (string | number)[]): string {
  let out = pointer;
  for (const key of keys) {
    const text = String(key);
    out += /[~/]/u.test(text) ? `/${text.replaceAll('~', '~0').replaceAll('/', '~1')}` : `/${text}`;
  }
  return out;
}

/** The keys of a JSON pointer. */
export function pointerKeys(pointer: string): readonly string[] {
  if (pointer === '') return [];
  return pointer
    .slice(1)
    .split('/')
    .map((k) => k.replaceAll('~1', '/').replaceAll('~0', '~'));
}

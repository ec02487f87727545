/** Computes when it is first asked, and once. */
export function lazy<T>(compute: () => T): () => T {
  let done: { readonly value: T } | undefined;
  return () => {
    done ??= { value: compute() };
    return done.value;
  };
}

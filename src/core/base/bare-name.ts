/** Names that nobody tells apart: `lockId`, `lock_id`. */
export function normalisedName(name: string): string {
  return name.replaceAll(/[^\p{L}\p{N}]/gu, '').toLowerCase();
}

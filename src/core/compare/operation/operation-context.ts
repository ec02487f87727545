/** What all parts of two operations are told with. */
import type { Operation } from '../../contract/model/contract.ts';
import { samplePath } from '../../contract/request/sample-request.ts';
import { type Affected, type Change, type ChangeDraft, newChange, type Part } from '../changes/change.ts';

export function affected(
  { method, path }: Pick<Operation, 'method' | 'path'>,
  part: Part,
  status: string | null = null,
  media: string | null = null,
): Affected {
  return { method, path, part, status, media };
}

/** Without the base of the document, which is put before all of them together. */
export function witness(operation: Operation, headers: Readonly<Record<string, string>> = {}): Change['witness'] {
  return { kind: 'request', method: operation.method, target: samplePath(operation), headers };
}

export function deprecated(old: Operation, now: Operation, at: Affected): readonly ChangeDraft[] {
  if (old.deprecated || !now.deprecated) return [];
  if (now.sunset !== undefined)
    return [
      { ...newChange(at, 'versions/deprecated', 'compatible', old, now), message: `it is deprecated now, until ${now.sunset}` },
    ];
  return [
    {
      ...newChange(at, 'versions/deprecated', 'risky', old, now),
      message: 'it is deprecated now, and nobody is told until when it is served',
      advice: 'Name a sunset (RFC 8594).',
    },
  ];
}

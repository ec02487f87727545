/** Expectations as the settings have them, printed and added to a file, whose comments and order are kept. */
import { Document, isSeq, parseDocument, type YAMLMap, YAMLSeq } from 'yaml';
import type { Draft } from '../core/rehearse/draft.ts';
import { fail } from './problem.ts';
import { writeWhole } from './write-file.ts';

export interface ServiceDrafts {
  /** Named where there is more than one. */
  readonly service: string | undefined;
  readonly drafts: readonly Draft[];
}

/** `expect:` with an entry on each line, and a comment before each group. */
export function expectationsText(all: readonly ServiceDrafts[]): string {
  const document = new Document({ expect: [] });
  document.set('expect', entriesOf(document, all, new Set()));
  return document.toString({ lineWidth: 0 });
}

/** Adds those whose request is not expected yet. Gives how many were added. */
export function addExpectations(file: string, text: string, all: readonly ServiceDrafts[]): number {
  const document = parseDocument(text);
  if (document.errors.length > 0) fail(file, 'it can not be changed, because it is no YAML without errors');
  const present = document.get('expect');
  const list = isSeq(present) ? present : undefined;
  const known = new Set(
    ((list?.toJSON() ?? []) as { request?: unknown; headers?: unknown }[]).map((e) => keyOf(String(e.request), e.headers)),
  );
  const added = entriesOf(document, all, known);
  if (added.items.length === 0) return 0;
  if (list === undefined) document.set('expect', added);
  else list.items.push(...added.items);
  writeWhole(file, [document.toString({ lineWidth: 0 })], []);
  return added.items.length;
}

function keyOf(request: string, headers: unknown): string {
  return `${request.replace(/\s+/gu, ' ')} ${JSON.stringify(headers ?? {})}`;
}

function entriesOf(document: Document, all: readonly ServiceDrafts[], known: ReadonlySet<string>): YAMLSeq {
  const list = new YAMLSeq();
  let group = '';
  for (const { service, drafts } of all)
    for (const { of, request, handler, status, allow } of drafts) {
      const headers = Object.keys(request.headers).length === 0 ? {} : { headers: request.headers };
      const line = `${request.method} ${request.target}`;
      if (known.has(keyOf(line, request.headers))) continue;
      const entry = document.createNode({
        request: line,
        ...headers,
        ...(service === undefined ? {} : { service }),
        ...(handler === undefined ? {} : { handler }),
        ...(status === undefined ? {} : { status }),
        ...(allow === undefined ? {} : { allow }),
      }) as YAMLMap;
      entry.flow = true;
      if (of !== group) entry.commentBefore = ` ${of}`;
      group = of;
      list.items.push(entry);
    }
  return list;
}

/** The files beside a document: those that its references name. */
import { dirname, join } from 'node:path';
import type { LoadFile } from '../core/contract/document/document.ts';
import { InputFailure } from './problem.ts';
import type { Sources } from './sources.ts';

/** Other files that a document refers to, named relative to it. What can't be read is told in words. */
export function besideOf(sources: Sources, find: (file: string) => string = (file) => file): LoadFile {
  return (reference, from) => {
    const [, revision = '', path = from] = /^([^:]+:)(.+)$/su.exec(from) ?? [];
    try {
      const file = find(revision + join(dirname(path), reference.replace(/^file:(?:\/\/)?/u, '')));
      return { file, value: sources.load(file).value };
    } catch (error) {
      if (error instanceof InputFailure) return error.problems[0]?.message.split(';', 1)[0] ?? 'it cannot be read';
      throw error;
    }
  };
}

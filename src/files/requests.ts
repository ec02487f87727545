/** Requests as JSON Lines, read and answered one at a time, so that a file of any length needs no more memory than a line. */
import { once } from 'node:events';
import { createReadStream, createWriteStream, readFileSync } from 'node:fs';
import * as z from 'zod';
import type { Request } from '../core/routes/request.ts';
import { InputFailure } from './problem.ts';
import { readText } from './read.ts';

/** One line of a requests file. */
export const requestLine = z.strictObject({
  method: z.string().min(1),
  target: z.string().min(1),
  headers: z.record(z.string(), z.string()).optional(),
  body: z.unknown().optional(),
});

/** The body that a flag names; `-` is standard input. */
export function readBody(file: string): string {
  return file === '-' ? readFileSync(0, 'utf8') : readText(file, file);
}

/** Answers are kept for lines that come again, as logs are full of; so many, and of so many characters in all. */
const MOST_KEPT = 50_000;
const MOST_KEPT_TEXT = 32 << 20;

/** Answers by line, the oldest forgotten first: the same request has the same answer. */
function keeper(): (line: string, make: () => string) => string {
  const kept = new Map<string, string>();
  let size = 0;
  return (line, make) => {
    const known = kept.get(line);
    if (known !== undefined) return known;
    const made = make();
    kept.set(line, made);
    size += line.length + made.length;
    for (const [old, answer] of kept) {
      if (kept.size <= MOST_KEPT && size <= MOST_KEPT_TEXT) break;
      kept.delete(old);
      size -= old.length + answer.length;
    }
    return made;
  };
}

/** How much is written at once. */
const BATCH = 64 * 1024;

/** Answers every line of the file with a line of its own; a line that can't be read is answered with what is wrong with it. */
export async function followAll(file: string, output: string | undefined, answer: (request: Request) => object): Promise<void> {
  const input = file === '-' ? process.stdin : createReadStream(file, 'utf8');
  const out = output === undefined ? process.stdout : createWriteStream(output);
  let buffer = '';
  let number = 0;
  const keep = keeper();
  try {
    for await (const line of linesOf(input)) {
      number += 1;
      if (line.trim() === '') continue;
      const answered = keep(line, () => {
        const read = requestOf(line);
        return typeof read === 'string' ? '' : JSON.stringify(answer(read));
      });
      buffer += `${answered === '' ? JSON.stringify(refusedLine(line, file, number)) : answered}\n`;
      if (buffer.length > BATCH) {
        if (!out.write(buffer)) await once(out, 'drain');
        buffer = '';
      }
    }
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === undefined) throw error;
    throw new InputFailure([
      { file, message: code === 'ENOENT' ? 'there is no such file; check the name' : `the file can't be read (${code})` },
    ]);
  }
  if (buffer !== '') out.write(buffer);
  if (output !== undefined) {
    out.end();
    await once(out, 'finish');
  }
}

/** The lines of a stream, one chunk at a time; Node's own reader takes longer for a line than following it does. */
async function* linesOf(input: AsyncIterable<string | Buffer>): AsyncGenerator<string> {
  const decoder = new TextDecoder();
  let rest = '';
  for await (const chunk of input) {
    const lines = (rest + (typeof chunk === 'string' ? chunk : decoder.decode(chunk, { stream: true }))).split(/\r?\n/u);
    rest = lines.pop() ?? '';
    yield* lines;
  }
  if (rest !== '') yield rest;
}

/** A line that is no request, told with its place each time it comes. */
function refusedLine(line: string, file: string, number: number): object {
  const message = `${file}:${number}: ${requestOf(line)}`;
  process.exitCode = 2;
  process.stderr.write(`${message}\n`);
  return { error: message };
}

/** The request of a line, or what is wrong with the line. Checked by hand where it is right, because there are millions. */
function requestOf(line: string): Request | string {
  let value: unknown;
  try {
    value = JSON.parse(line);
  } catch {
    return 'this is no JSON; expected {"method": "GET", "target": "/locks/7"}';
  }
  const { method, target, headers, body } = (value ?? {}) as Record<string, unknown>;
  if (typeof method === 'string' && typeof target === 'string' && body === undefined && isPlain(value as object, headers))
    return { method: method.toUpperCase(), target, headers: (headers ?? {}) as Record<string, string> };
  const parsed = requestLine.safeParse(value);
  if (!parsed.success)
    return `expected method, target, headers and body: ${parsed.error.issues.map((i) => `${i.path.join('.')} ${i.message.toLowerCase()}`.trim()).join('; ')}`;
  const { data } = parsed;
  return {
    method: data.method.toUpperCase(),
    target: data.target,
    headers: data.headers ?? {},
    ...(data.body === undefined ? {} : { body: typeof data.body === 'string' ? data.body : JSON.stringify(data.body) }),
  };
}

/** Nothing besides method, target and headers that are texts. */
function isPlain(value: object, headers: unknown): boolean {
  for (const key in value) if (key !== 'method' && key !== 'target' && key !== 'headers') return false;
  if (headers === undefined) return true;
  if (typeof headers !== 'object' || headers === null || Array.isArray(headers)) return false;
  for (const text of Object.values(headers)) if (typeof text !== 'string') return false;
  return true;
}

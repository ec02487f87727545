/** Requests as JSON Lines, read and answered one at a time, so that a file of any length needs no more memory than a line. */
import { once } from 'node:events';
import { createReadStream, readFileSync } from 'node:fs';
import * as z from 'zod';
import type { Request } from '../core/routes/request/request.ts';
import { InputFailure } from './problem.ts';
import { readText } from './read.ts';
import { openResult } from './write-file.ts';

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

/** How much is read and written at once: a file waits for its disk less often than for each line. */
const BATCH = 256 * 1024;

/** A part of an answer: text, or bytes that many answers share. */
export type Piece = string | Uint8Array;

/**
 * Answers every line of the file with a line of its own; a line that can't be read is answered with what is wrong with it.
 * Answers to a file go aside first; none of `inputs` is written over.
 */
export async function followAll(
  file: string,
  output: string | undefined,
  inputs: readonly string[],
  answer: (request: Request) => readonly Piece[],
): Promise<void> {
  const input = file === '-' ? process.stdin : createReadStream(file, { encoding: 'utf8', highWaterMark: BATCH });
  if (output === undefined) return answerTo(file, input, answer, toStandardOutput);
  const result = openResult(output, [file, ...inputs]);
  try {
    await answerTo(file, input, answer, async (bytes) => result.write(bytes));
  } catch (error) {
    result.abandon();
    throw error;
  }
  result.finish();
}

async function toStandardOutput(bytes: Uint8Array): Promise<void> {
  if (!process.stdout.write(bytes)) await once(process.stdout, 'drain');
}

async function answerTo(
  file: string,
  input: AsyncIterable<string | Buffer>,
  answer: (request: Request) => readonly Piece[],
  write: (bytes: Uint8Array) => Promise<void>,
): Promise<void> {
  const page = new Page();
  let number = 0;
  try {
    for await (const lines of linesOf(input)) {
      for (const line of lines) {
        number += 1;
        if (line.trim() === '') continue;
        const read = requestOf(number === 1 ? line.replace(/^\ufeff/u, '') : line);
        if (typeof read === 'string') page.add(JSON.stringify(refusedLine(read, file, number)));
        else for (const piece of answer(read)) page.add(piece);
        page.add('\n');
      }
      // What was asked so far is answered before more is waited for.
      for (const bytes of page.take()) await write(bytes);
    }
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === undefined) throw error;
    // Whoever reads the answers has seen enough.
    if (code === 'EPIPE') return;
    throw new InputFailure([
      { file, message: code === 'ENOENT' ? 'there is no such file; check the name' : `the file can't be read (${code})` },
    ]);
  }
}

/** Bytes to write. Long texts that are put together from parts are slow to encode, so each part is encoded by itself. */
class Page {
  private bytes = Buffer.allocUnsafe(BATCH);
  private used = 0;
  private full: Buffer[] = [];

  add(piece: Piece): void {
    // A code unit takes three bytes at most (RFC 3629, 3).
    const most = typeof piece === 'string' ? piece.length * 3 : piece.length;
    if (most > this.bytes.length - this.used) this.turn(most);
    if (typeof piece === 'string') this.used += this.bytes.write(piece, this.used);
    else {
      this.bytes.set(piece, this.used);
      this.used += piece.length;
    }
  }

  /** All that was added since it was last taken. */
  take(): readonly Buffer[] {
    this.turn(0);
    const { full } = this;
    this.full = [];
    return full;
  }

  private turn(most: number): void {
    if (this.used > 0) this.full.push(this.bytes.subarray(0, this.used));
    // What was written over while its stream still holds it would be lost.
    this.bytes = this.bytes.subarray(this.used);
    if (this.bytes.length < Math.max(most, BATCH / 4)) this.bytes = Buffer.allocUnsafe(Math.max(most, BATCH));
    this.used = 0;
  }
}

/** The lines of a stream, as many at a time as are there; Node's own reader takes longer for a line than following it does. */
async function* linesOf(input: AsyncIterable<string | Buffer>): AsyncGenerator<readonly string[]> {
  const decoder = new TextDecoder();
  let rest = '';
  let isSkipping = false;
  for await (const chunk of input) {
    const text = typeof chunk === 'string' ? chunk : decoder.decode(chunk, { stream: true });
    // What is left of a line that is too long is not kept.
    const from = isSkipping ? text.indexOf('\n') + 1 : 0;
    if (isSkipping && from === 0) continue;
    const lines = ((isSkipping ? '' : rest) + text.slice(from)).split(/\r?\n/u);
    isSkipping = false;
    rest = lines.pop() ?? '';
    if (rest.length > MOST_LINE) {
      lines.push(rest);
      rest = '';
      isSkipping = true;
    }
    yield lines;
  }
  if (rest !== '') yield [rest];
}

/** A longer line is no request, in characters. */
export const MOST_LINE = 1_000_000;

/** What is wrong with a line that is no request, told with its place. */
function refusedLine(why: string, file: string, number: number): object {
  const message = `${file}:${number}: ${why}`;
  process.exitCode = 2;
  process.stderr.write(`${message}\n`);
  return { error: message };
}

/** What most lines look like, read without a parser. */
const USUAL = /^\{"method":"([A-Z]+)","target":"([^"\\\p{Cc}]+)"(?:,"headers":\{\})?\}$/u;
const NO_HEADERS = {};

/** The request of a line, or what is wrong with the line. Checked by hand where it is right, because there are millions. */
function requestOf(line: string): Request | string {
  if (line.length > MOST_LINE) return `the line has more than ${MOST_LINE} characters, which is the most that is read`;
  if (line.includes('\ufffd')) return 'the line holds bytes that are no UTF-8; save the file as UTF-8';
  const usual = USUAL.exec(line);
  if (usual !== null) return { method: usual[1] as string, target: usual[2] as string, headers: NO_HEADERS };
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
    return `expected {"method": "GET", "target": "/locks/7"}, headers and body if need be; ${wrongParts(value).join(', ')}`;
  const { data } = parsed;
  return {
    method: data.method.toUpperCase(),
    target: data.target,
    headers: data.headers ?? {},
    ...(data.body === undefined ? {} : { body: typeof data.body === 'string' ? data.body : JSON.stringify(data.body) }),
  };
}

const KNOWN_PARTS = ['method', 'target', 'headers', 'body'];

/** Which parts of a request are missing or no texts. */
function wrongParts(value: unknown): readonly string[] {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return ['this is no mapping'];
  const { method, target, headers } = value as Record<string, unknown>;
  const unknown = Object.keys(value).filter((key) => !KNOWN_PARTS.includes(key)).length;
  const said = (name: string, part: unknown): readonly string[] =>
    part === undefined ? [`${name} is missing`] : typeof part === 'string' && part !== '' ? [] : [`${name} is not a text`];
  return [
    ...said('method', method),
    ...said('target', target),
    ...(headers === undefined || isPlain({}, headers) ? [] : ['headers is not a mapping of texts']),
    ...(unknown > 0 ? [`${unknown} unknown ${unknown === 1 ? 'key' : 'keys'}`] : []),
  ];
}

/** Nothing besides method, target and headers that are texts. */
function isPlain(value: object, headers: unknown): boolean {
  for (const key in value) if (key !== 'method' && key !== 'target' && key !== 'headers') return false;
  if (headers === undefined) return true;
  if (typeof headers !== 'object' || headers === null || Array.isArray(headers)) return false;
  for (const text of Object.values(headers)) if (typeof text !== 'string') return false;
  return true;
}

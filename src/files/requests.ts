/** Requests as JSON Lines, read and answered one at a time, so that a file of any length needs no more memory than a line. */
import { once } from 'node:events';
import { createReadStream, createWriteStream, readFileSync } from 'node:fs';
import { createInterface } from 'node:readline';
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

/** How much is written at once. */
const BATCH = 64 * 1024;

/** Answers every line of the file with a line of its own; a line that can't be read is answered with what is wrong with it. */
export async function followAll(file: string, output: string | undefined, answer: (request: Request) => object): Promise<void> {
  const input = file === '-' ? process.stdin : createReadStream(file, 'utf8');
  const out = output === undefined ? process.stdout : createWriteStream(output);
  let buffer = '';
  let number = 0;
  try {
    for await (const line of createInterface({ input, crlfDelay: Number.POSITIVE_INFINITY })) {
      number += 1;
      if (line.trim() === '') continue;
      buffer += `${JSON.stringify(answerLine(line, file, number, answer))}\n`;
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

function answerLine(line: string, file: string, number: number, answer: (request: Request) => object): object {
  const request = requestOf(line);
  if (typeof request === 'string') {
    process.exitCode = 2;
    process.stderr.write(`${file}:${number}: ${request}\n`);
    return { error: `${file}:${number}: ${request}` };
  }
  return answer(request);
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
  if (typeof method === 'string' && typeof target === 'string' && headers === undefined && body === undefined)
    return { method: method.toUpperCase(), target, headers: {} };
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

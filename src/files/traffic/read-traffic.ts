/** Logs of any length, a piece at a time: access logs, JSON Lines and HAR, packed or not, from files and standard input. */
import { createReadStream, statSync } from 'node:fs';
import { createGunzip } from 'node:zlib';
import { viewed } from '../../core/traffic/byte-table.ts';
import { fail } from '../problem.ts';
import { AccessLog, isAccessLine, type Piece } from './access-log.ts';
import { type FieldPaths, harEntries, jsonLine } from './json-records.ts';
import type { LogFormat } from './log-formats.ts';
import type { Sink } from './sink.ts';

export interface ReadOptions {
  /** Seen by itself where it is not said. */
  readonly format: LogFormat | undefined;
  readonly fields: FieldPaths;
}

const [LF, CR] = [10, 13];
/** How much is read at once. */
const PIECE = 1 << 18;
/** A longer line is none of a log, in bytes. */
const MOST_LINE = 1 << 20;
/** A HAR is one value, so it is read whole. */
const MOST_HAR = 1 << 28;

/** Reads every file into the sink, in their order. Memory does not grow with their length, but for a HAR. Fails with a sentence. */
export async function readTraffic(files: readonly string[], sink: Sink, options: ReadOptions): Promise<void> {
  for (const file of files) {
    try {
      await readOne(file, sink, options);
    } catch (error) {
      const { code } = error as NodeJS.ErrnoException;
      if (code === undefined) throw error;
      if (code.startsWith('Z_'))
        fail(file, 'the packed file is damaged; what stood before the damage would be told as if it were all');
      fail(file, code === 'ENOENT' ? 'there is no such file; check the name' : `the file can't be read (${code})`);
    }
  }
}

async function readOne(file: string, sink: Sink, { format, fields }: ReadOptions): Promise<void> {
  const pieces = unpacked(file);
  let rest: Buffer = Buffer.alloc(0);
  let lines: Lines | undefined;
  const held: Buffer[] = [];
  let size = 0;
  for await (const piece of pieces) {
    if (lines === undefined && held.length === 0) {
      const own = format ?? formatOf(piece.toString('utf8'));
      if (own === undefined)
        fail(file, 'no access log, JSON Lines or HAR; say with --as what it is, or with --fields where a record has its parts');
      if (own !== 'har') lines = linesOf(own, file, sink, fields);
    }
    if (lines === undefined) {
      held.push(piece);
      size += piece.length;
      if (size > MOST_HAR) fail(file, 'a HAR of more than 256 MB is not read; split it, or write its requests as JSON Lines');
      continue;
    }
    const whole = rest.length === 0 ? piece : Buffer.concat([rest, piece]);
    const end = whole.lastIndexOf(10) + 1;
    lines.read(whole.subarray(0, end));
    rest = whole.subarray(end);
    if (rest.length > MOST_LINE) {
      lines.skip();
      rest = Buffer.alloc(0);
    }
  }
  if (lines !== undefined) lines.read(rest);
  else if (held.length > 0) harEntries(parsed(Buffer.concat(held).toString('utf8'), file), sink, file);
}

function parsed(text: string, file: string): unknown {
  try {
    return JSON.parse(text.replace(/^\ufeff/u, ''));
  } catch {
    return fail(file, 'the HAR is no JSON, or is cut off');
  }
}

/** The bytes of a file, packed ones unpacked (RFC 1952 begins with 1f 8b). */
async function* unpacked(file: string): AsyncGenerator<Buffer> {
  if (file !== '-' && statSync(file, { throwIfNoEntry: false })?.isDirectory() === true)
    fail(file, 'this is a folder; name the files in it');
  const stream = file === '-' ? process.stdin : createReadStream(file, { highWaterMark: PIECE });
  const pieces = stream[Symbol.asyncIterator]() as AsyncIterator<Buffer>;
  const first = await pieces.next();
  if (first.done === true) return;
  const all = async function* (): AsyncGenerator<Buffer> {
    yield first.value;
    for (let next = await pieces.next(); next.done !== true; next = await pieces.next()) yield next.value;
  };
  if (first.value[0] !== 0x1f || first.value[1] !== 0x8b) {
    yield* all();
    return;
  }
  const { Readable } = await import('node:stream');
  const source = Readable.from(all());
  const unzip = createGunzip({ chunkSize: PIECE });
  source.on('error', (error) => unzip.destroy(error));
  yield* source.pipe(unzip);
}

/** What a text is by its beginning. */
function formatOf(text: string): LogFormat | undefined {
  const start = text.replace(/^\ufeff/u, '').trimStart();
  const [first = ''] = start.split('\n', 1);
  if (start.startsWith('{')) {
    if (/^\{\s*"log"\s*:/u.test(start)) return 'har';
    return /\}\s*$/u.test(first) || first.length === start.length ? 'jsonl' : undefined;
  }
  return start.split('\n', 20).some(isAccessLine) ? 'access' : undefined;
}

interface Lines {
  /** Whole lines. */
  readonly read: (bytes: Buffer) => void;
  /** A line that is too long is left out. */
  readonly skip: () => void;
}

function linesOf(format: 'access' | 'jsonl', file: string, sink: Sink, fields: FieldPaths): Lines {
  const log = new AccessLog(file, sink);
  let [number, isSkipping] = [0, false];
  const one = (piece: Piece, from: number, end: number): void => {
    number += 1;
    if (isSkipping) {
      isSkipping = false;
      return;
    }
    if (end <= from) return;
    if (format === 'access') log.line(piece, from, end, number);
    else jsonLine(piece.bytes.toString('utf8', from, end), fields, sink, file, number);
  };
  return {
    read: (bytes) => {
      const piece: Piece = { bytes, view: viewed(bytes).view };
      let from = number === 0 && bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? 3 : 0;
      for (let at = bytes.indexOf(LF, from); at >= 0; at = bytes.indexOf(LF, from)) {
        one(piece, from, bytes[at - 1] === CR ? at - 1 : at);
        from = at + 1;
      }
      if (from < bytes.length) one(piece, from, bytes.length);
    },
    skip: () => {
      if (!isSkipping) sink.refuse('a line of more than a megabyte', file, number + 1);
      isSkipping = true;
    },
  };
}

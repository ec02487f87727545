/**
 * The common and the combined log format, with or without the host before each line. A line is looked at only as far as it has
 * to be, because logs are long.
 */
import { type Bytes, viewed } from '../../core/traffic/byte-table.ts';
import type { Recorded } from '../../core/traffic/tally.ts';
import type { Sink } from './sink.ts';

const MONTHS: Readonly<Record<string, number>> = Object.fromEntries(
  ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'].map((name, i) => [name, i]),
);

const [QUOTE, BACKSLASH, SPACE, OPEN, DASH] = [0x22, 0x5c, 0x20, 0x5b, 0x2d];

/** A piece of a log: whole lines. */
export interface Piece extends Bytes {
  readonly bytes: Buffer;
}

/** Is this text a line of such a log? */
export function isAccessLine(line: string): boolean {
  return /^(?:\S+ ){1,3}\S+ \[[^\]]+\] "/u.test(line);
}

/** Reads lines one after another; what it knows of the line before makes the next one fast. */
export class AccessLog {
  private readonly minute = new Minute();
  private hasHost: boolean | undefined;
  private scratch = viewed(new Uint8Array(1_024));

  constructor(
    private readonly file: string,
    private readonly sink: Sink,
  ) {}

  /** The line of a piece from `from` up to `end`. */
  line(piece: Piece, from: number, end: number, number: number): void {
    const why = this.read(piece, from, end);
    if (why !== undefined) this.sink.refuse(why, this.file, number);
  }

  /** Why it is no line of a log; undefined where it is one. */
  private read(piece: Piece, from: number, end: number): string | undefined {
    const { bytes } = piece;
    const open = bytes.indexOf(QUOTE, from);
    if (open < 0 || open >= end) return 'no request in quotes';
    const close = closing(bytes, open + 1, end);
    if (close < 0) return 'the request has no closing quote';
    const status = statusAt(bytes, close + 2, end);
    if (status < 0) return 'no status behind the request';
    this.hasHost ??= /^(?:\S+ ){4}\[/u.test(bytes.toString('latin1', from, open));
    if (!hasMethod(bytes, open + 1, close)) return 'the request is no method and target';
    const at = this.minute.timeAt(piece, from, open);
    const client = this.clientAt(piece, close + 5, end);
    if (this.hasHost) this.addWithHost(piece, from, [open + 1, close], client, at, status);
    else
      this.sink.addPart(piece, open + 1, close + 5, client, at, () =>
        recordOf(bytes.toString('latin1', open + 1, close), '', status),
      );
    return undefined;
  }

  /** The host stands before the line; it makes another request. */
  private addWithHost(
    { bytes }: Piece,
    from: number,
    [open, close]: readonly [number, number],
    client: number,
    at: number,
    status: number,
  ): void {
    const host = bytes.subarray(from, bytes.indexOf(SPACE, from));
    const length = close + 5 - open + host.length;
    if (this.scratch.bytes.length < length) this.scratch = viewed(new Uint8Array(2 * length));
    this.scratch.bytes.set(bytes.subarray(open, close + 5));
    this.scratch.bytes.set(host, close + 5 - open);
    this.sink.addPart(this.scratch, 0, length, client, at, () =>
      recordOf(bytes.toString('latin1', open, close), host.toString('latin1'), status),
    );
  }

  /** The second quoted text behind the status: the User-Agent of the combined format. */
  private clientAt(piece: Piece, from: number, end: number): number {
    const { bytes } = piece;
    const referer = bytes.indexOf(QUOTE, from);
    const refererEnd = referer < 0 || referer >= end ? -1 : closing(bytes, referer + 1, end);
    const agent = refererEnd < 0 ? -1 : bytes.indexOf(QUOTE, refererEnd + 1);
    const agentEnd = agent < 0 || agent >= end ? -1 : closing(bytes, agent + 1, end);
    return agentEnd < 0 ? this.sink.clientOf(piece, 0, 0) : this.sink.clientOf(piece, agent + 1, agentEnd);
  }
}

/** `14/Mar/2027:09:26` and its zone: the minute of the line before, read once. */
class Minute {
  /** The bytes as numbers: what a line has at the same places. */
  private readonly known = new Int32Array(6);
  private seconds = 0;

  /** Seconds since 1970 of `[14/Mar/2027:09:26:53 +0100]`; 0 where there is none. */
  timeAt({ bytes, view }: Piece, from: number, open: number): number {
    const at = bytes.indexOf(OPEN, from);
    // Some logs name no zone; what stands there then is the request, and there is enough of it.
    if (at < 0 || at + 21 > open) return 0;
    let isKnown = true;
    for (let i = 0; i < this.known.length; i++) {
      const word = view.getInt32(at + (WORDS[i] as number), true);
      if (word === this.known[i]) continue;
      isKnown = false;
      this.known[i] = word;
    }
    if (!isKnown) this.seconds = minuteOf(bytes.toString('latin1', at + 1, at + 27));
    return this.seconds === 0 ? 0 : this.seconds + ((bytes[at + 19] as number) - 48) * 10 + ((bytes[at + 20] as number) - 48);
  }
}

/** Where the numbers of a minute begin, of four bytes each: date, hour and minute, and the zone behind the seconds. */
const WORDS = [1, 5, 9, 13, 14, 22];

/** The quote that ends a text, one behind a backslash passed over; below 0 where there is none. */
function closing(bytes: Buffer, from: number, end: number): number {
  let at = bytes.indexOf(QUOTE, from);
  while (at >= 0 && at < end && bytes[at - 1] === BACKSLASH) at = bytes.indexOf(QUOTE, at + 1);
  return at < end ? at : -1;
}

function statusAt(bytes: Buffer, at: number, end: number): number {
  if (at + 3 > end) return -1;
  const [a, b, c] = [(bytes[at] as number) - 48, (bytes[at + 1] as number) - 48, (bytes[at + 2] as number) - 48];
  return a >= 1 && a <= 9 && b >= 0 && b <= 9 && c >= 0 && c <= 9 ? a * 100 + b * 10 + c : -1;
}

/** Letters and dashes (RFC 9110, 9.1, as far as methods are registered), and a space behind them. */
function hasMethod(bytes: Buffer, from: number, end: number): boolean {
  for (let i = from; i < end; i++) {
    const code = bytes[i] as number;
    if (code === SPACE) return i > from;
    if ((code < 0x41 || code > 0x5a) && (code < 0x61 || code > 0x7a) && code !== DASH) return false;
  }
  return false;
}

function minuteOf(date: string): number {
  const [, day, month = '', year, hour, minute, sign, hours, minutes] =
    /^(\d\d)\/(\w{3})\/(\d{4}):(\d\d):(\d\d):\d\d(?: ([+-])(\d\d)(\d\d))?/u.exec(date) ?? [];
  if (day === undefined || MONTHS[month] === undefined) return 0;
  const offset = (Number(hours ?? 0) * 60 + Number(minutes ?? 0)) * (sign === '-' ? -1 : 1);
  return Date.UTC(Number(year), MONTHS[month] ?? 0, Number(day), Number(hour), Number(minute) - offset) / 1000;
}

/** `GET /locks HTTP/1.1` as a record; bytes that are UTF-8 become characters. */
function recordOf(asked: string, host: string, status: number): Recorded {
  const text = unescaped(asked);
  const [, method = '', target = ''] = /^(\S+) (.*?)(?: HTTP\/[\d.]+)?$/su.exec(text) ?? [];
  const headers = host === '' ? {} : { Host: host };
  return { request: { method, target, headers }, status, hasHeaders: false, hasBody: false };
}

/** What servers write for bytes that would break a line, and bytes read as Latin-1. */
function unescaped(text: string): string {
  const bare = text.replace(/\\(?:x([0-9a-fA-F]{2})|(["\\]))/gu, (_, code?: string, own?: string) =>
    code === undefined ? (own as string) : String.fromCharCode(Number.parseInt(code, 16)),
  );
  return /[\u0080-\u00ff]/u.test(bare) ? Buffer.from(bare, 'latin1').toString('utf8') : bare;
}

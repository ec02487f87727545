/**
 * The common and the combined log format, with or without the host before each line. A line is looked at only as far as it has
 * to be, because logs are long.
 */
import type { Recorded } from '../../core/traffic/tally.ts';
import type { Sink } from './sink.ts';

const MONTHS: Readonly<Record<string, number>> = Object.fromEntries(
  ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'].map((name, i) => [name, i]),
);

const BACKSLASH = 0x5c;

/** Is this text a line of such a log? */
export function isAccessLine(line: string): boolean {
  return /^(?:\S+ ){1,3}\S+ \[[^\]]+\] "/u.test(line);
}

/** Reads lines one after another; what it knows of the line before makes the next one fast. */
export class AccessLog {
  private minute = 'none yet';
  private minuteAt = 0;
  private hasHost: boolean | undefined;

  constructor(
    private readonly file: string,
    private readonly sink: Sink,
  ) {}

  /** The line of `text` from `from` up to `end`; bytes as Latin-1. */
  line(text: string, from: number, end: number, number: number): void {
    const why = this.read(text, from, end);
    if (why !== undefined) this.sink.refuse(why, this.file, number);
  }

  /** Why it is no line of a log; undefined where it is one. */
  private read(text: string, from: number, end: number): string | undefined {
    const open = text.indexOf('"', from);
    if (open < 0 || open >= end) return 'no request in quotes';
    const close = closing(text, open + 1, end);
    if (close < 0) return 'the request has no closing quote';
    const status = statusAt(text, close + 2, end);
    if (status < 0) return 'no status behind the request';
    this.hasHost ??= /^(?:\S+ ){4}\[/u.test(text.slice(from, open));
    const space = text.indexOf(' ', open);
    const length = close - open - 1;
    if (space <= open + 1 || space >= close || !isMethod(text, open + 1, space)) return 'the request is no method and target';
    const at = this.timeAt(text, from, open);
    const client = this.clientAt(text, close + 5, end);
    if (!this.hasHost) this.sink.addPart(text, open + 1, close + 5, client, at, (asked) => recordOf(asked, length, '', status));
    else {
      const host = text.slice(from, text.indexOf(' ', from));
      const key = `${text.slice(open + 1, close + 5)} ${host}`;
      this.sink.addPart(key, 0, key.length, client, at, (asked) => recordOf(asked, length, host, status));
    }
    return undefined;
  }

  /** The second quoted text behind the status: the User-Agent of the combined format. */
  private clientAt(text: string, from: number, end: number): number {
    const referer = text.indexOf('"', from);
    const refererEnd = referer < 0 || referer >= end ? -1 : closing(text, referer + 1, end);
    const agent = refererEnd < 0 ? -1 : text.indexOf('"', refererEnd + 1);
    const agentEnd = agent < 0 || agent >= end ? -1 : closing(text, agent + 1, end);
    return agentEnd < 0 ? this.sink.clientOf('', 0, 0) : this.sink.clientOf(text, agent + 1, agentEnd);
  }

  /** Seconds since 1970 of `[14/Mar/2027:09:26:53 +0100]`; 0 where there is none. */
  private timeAt(text: string, from: number, open: number): number {
    const at = text.indexOf('[', from);
    if (at < 0 || at > open) return 0;
    if (!text.startsWith(this.minute, at + 1)) {
      this.minute = text.slice(at + 1, at + 18);
      this.minuteAt = minuteOf(text.slice(at + 1, at + 27));
    }
    return this.minuteAt === 0 ? 0 : this.minuteAt + (text.charCodeAt(at + 19) - 48) * 10 + (text.charCodeAt(at + 20) - 48);
  }
}

/** The quote that ends a text, one behind a backslash passed over; below 0 where there is none. */
function closing(text: string, from: number, end: number): number {
  let at = text.indexOf('"', from);
  while (at >= 0 && at < end && text.charCodeAt(at - 1) === BACKSLASH) at = text.indexOf('"', at + 1);
  return at < end ? at : -1;
}

function statusAt(text: string, at: number, end: number): number {
  if (at + 3 > end) return -1;
  const [a, b, c] = [text.charCodeAt(at) - 48, text.charCodeAt(at + 1) - 48, text.charCodeAt(at + 2) - 48];
  return a >= 1 && a <= 9 && b >= 0 && b <= 9 && c >= 0 && c <= 9 ? a * 100 + b * 10 + c : -1;
}

/** Letters and dashes (RFC 9110, 9.1, as far as methods are registered). */
function isMethod(text: string, from: number, end: number): boolean {
  for (let i = from; i < end; i++) {
    const code = text.charCodeAt(i);
    if ((code < 0x41 || code > 0x5a) && (code < 0x61 || code > 0x7a) && code !== 0x2d) return false;
  }
  return true;
}

function minuteOf(date: string): number {
  const [, day, month = '', year, hour, minute, sign, hours, minutes] =
    /^(\d\d)\/(\w{3})\/(\d{4}):(\d\d):(\d\d):\d\d(?: ([+-])(\d\d)(\d\d))?/u.exec(date) ?? [];
  if (day === undefined || MONTHS[month] === undefined) return 0;
  const offset = (Number(hours ?? 0) * 60 + Number(minutes ?? 0)) * (sign === '-' ? -1 : 1);
  return Date.UTC(Number(year), MONTHS[month] ?? 0, Number(day), Number(hour), Number(minute) - offset) / 1000;
}

/** `GET /locks HTTP/1.1" 200` as a record; bytes that are UTF-8 become characters. */
function recordOf(asked: string, length: number, host: string, status: number): Recorded {
  const text = unescaped(asked.slice(0, length));
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

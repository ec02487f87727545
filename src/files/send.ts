/** Requests sent to a service that runs. Nothing else of the program opens a connection. */
import { Pool } from 'undici';
import type { Answer, NoAnswer } from '../core/rehearse/answer.ts';
import type { Request } from '../core/routes/request/request.ts';

export interface SendOptions {
  /** `http://127.0.0.1:4000` */
  readonly origin: string;
  readonly concurrency: number;
  /** In milliseconds, for each request. */
  readonly timeout: number;
  /** Requests in a second, at most; 0 is no limit. */
  readonly rate: number;
  /** Sent with every request. */
  readonly headers: Readonly<Record<string, string>>;
}

/** A body is read up to so many characters. */
const MOST_BODY = 4_000_000;

export type Send = (requests: readonly Request[]) => Promise<readonly (Answer | NoAnswer | undefined)[]>;

/** Sends each request as it is written, several at once; redirects are not followed, nothing is sent twice. */
export async function withSender<T>(
  options: SendOptions,
  done: (answered: number) => void,
  isStopped: () => boolean,
  run: (send: Send) => Promise<T>,
): Promise<T> {
  const pool = new Pool(options.origin, {
    connections: options.concurrency,
    headersTimeout: options.timeout,
    bodyTimeout: options.timeout,
    connect: { timeout: options.timeout },
  });
  let [started, finished] = [0, 0];
  const start = Date.now();
  const send: Send = async (requests) => {
    const answers: (Answer | NoAnswer | undefined)[] = requests.map(() => undefined);
    let next = 0;
    const work = async (): Promise<void> => {
      for (let i = next++; i < requests.length && !isStopped(); i = next++) {
        const due = options.rate === 0 ? 0 : start + (started++ * 1000) / options.rate - Date.now();
        if (due > 0) await new Promise((resolve) => setTimeout(resolve, due));
        answers[i] = await sendOne(pool, requests[i] as Request, options.headers);
        finished += 1;
        done(finished);
      }
    };
    await Promise.all(Array.from({ length: Math.min(options.concurrency, requests.length) }, work));
    return answers;
  };
  try {
    return await run(send);
  } finally {
    await pool.destroy();
  }
}

async function sendOne(pool: Pool, request: Request, headers: Readonly<Record<string, string>>): Promise<Answer | NoAnswer> {
  try {
    const {
      statusCode,
      headers: came,
      body,
    } = await pool.request({
      path: request.target,
      method: request.method as 'GET',
      headers: { ...headers, ...request.headers },
      body: request.body ?? null,
    });
    const text = (await body.text()).slice(0, MOST_BODY);
    const plain = Object.fromEntries(
      Object.entries(came).map(([name, value]) => [name.toLowerCase(), Array.isArray(value) ? value.join(', ') : String(value)]),
    );
    return { status: statusCode, headers: plain, body: text };
  } catch (error) {
    return { failed: failureOf(error as Error & { code?: string }) };
  }
}

function failureOf({ code, message }: Error & { code?: string }): string {
  switch (code) {
    case 'ECONNREFUSED':
      return 'nobody listens there';
    case 'ENOTFOUND':
      return 'there is no such host';
    case 'ECONNRESET':
    case 'UND_ERR_SOCKET':
      return 'the connection was closed before an answer came';
    case 'UND_ERR_HEADERS_TIMEOUT':
    case 'UND_ERR_BODY_TIMEOUT':
    case 'UND_ERR_CONNECT_TIMEOUT':
      return 'no answer came in time';
    default:
      if (/HTTP\/1\.1 protocol|^HPE_/u.test(code ?? message)) return 'what came is no HTTP';
      return /certificate|TLS|SSL/iu.test(message) ? `its certificate is not trusted (${code ?? message})` : (code ?? message);
  }
}

/** rehearse against services that keep state, and against those that misbehave. */
import { createServer } from 'node:net';
import express from 'express';
import { expect, test } from 'vitest';
import { folder } from './run.ts';
import { listening, rehearse } from './services.ts';

const ROUTES = ['GET /locks', 'POST /locks', 'GET /locks/{lockId}', 'PUT /locks/{lockId}', 'DELETE /locks/{lockId}'];
const TABLE = `routeTable: 1\nroutes:\n${ROUTES.map((r, i) => `  - ${r} -> locks.h${i}\n`).join('')}`;
const BODY =
  'requestBody: { required: true, content: { application/json: { schema: { type: object, required: [name], properties: { name: { type: string, minLength: 3 } } } } } }';
const DONE = 'responses: { default: { description: Done } }';
const KEY = 'parameters: [{ name: lockId, in: path, required: true, schema: { type: string } }]';
const DOCUMENT = `openapi: 3.1.0
info: { title: Canal, version: 1.0.0 }
paths:
  /locks: { get: { ${DONE} }, post: { ${BODY}, ${DONE} } }
  /locks/{lockId}: { ${KEY}, get: { ${DONE} }, put: { ${BODY}, ${DONE} }, delete: { ${DONE} } }
`;

/** Locks by key; what was asked is noted. */
function lockService(): { readonly app: express.Express; readonly asked: string[] } {
  const locks = new Map([['elm', { lockId: 'elm', name: 'Elm' }]]);
  const asked: string[] = [];
  const app = express().use(express.json());
  app.use((request, _, next) => {
    asked.push(`${request.method} ${request.url}${request.body?.name === undefined ? '' : ` ${request.body.name.length}`}`);
    next();
  });
  const known = (id: string, response: express.Response): boolean => locks.has(id) || !response.status(404).json({});
  app.get('/locks', (_, response) => void response.json({ total: locks.size, items: [...locks.values()] }));
  app.post('/locks', (request, response) => {
    if ((request.body?.name?.length ?? 0) < 3) return void response.status(422).json({});
    locks.set('new-1', { lockId: 'new-1', name: request.body.name });
    response.status(201).location('/locks/new-1').json({});
  });
  app.get(
    '/locks/:id',
    (request, response) => known(request.params.id, response) && void response.json(locks.get(request.params.id)),
  );
  app.put('/locks/:id', (request, response) => known(request.params.id, response) && void response.json({}));
  app.delete('/locks/:id', (request, response) => {
    if (known(request.params.id, response) && locks.delete(request.params.id)) response.status(204).end();
  });
  return { app, asked };
}

test('the life of a resource: what was created is read, changed and deleted again, and nothing else is changed', async () => {
  const { app, asked } = lockService();
  const { origin, close } = await listening((port) => app.listen(port, '127.0.0.1'));
  const dir = folder({ 'canal.routes.yaml': TABLE, 'canal.openapi.yaml': DOCUMENT });
  const { out, status } = await rehearse(dir, [origin, '--methods', 'GET,POST,PUT,DELETE', '--format', 'json']);
  close();
  expect(asked).toEqual([
    'GET /locks',
    'GET /locks/elm',
    'POST /locks 3',
    'GET /locks/new-1',
    'PUT /locks/new-1 3',
    'DELETE /locks/new-1',
    'GET /locks/new-1',
  ]);
  expect([JSON.parse(out).summary, status]).toEqual([{ sent: 7, agrees: 7, contradicts: 0, open: 0, undocumented: 0 }, 0]);
});

test('a life below another item: every step has the parent under which it was created, and none that a list named', async () => {
  const asked: string[] = [];
  const app = express().use((request, _, next) => {
    asked.push(`${request.method} ${request.url}`);
    next();
  });
  let isThere = false;
  app.get('/locks', (_, response) => void response.json([{ lockId: 'elm' }]));
  app.post('/locks/:id/gates', (_, response) => {
    isThere = true;
    response.status(201).json({ gateId: 'g1' });
  });
  app.get('/locks/:id/gates/g1', (_, response) => void response.status(isThere ? 200 : 404).end());
  app.delete('/locks/:id/gates/g1', (_, response) => {
    isThere = false;
    response.status(204).end();
  });
  const { origin, close } = await listening((port) => app.listen(port, '127.0.0.1'));
  const routes = [
    'GET /locks',
    'POST /locks/{lockId}/gates',
    'GET /locks/{lockId}/gates/{gateId}',
    'DELETE /locks/{lockId}/gates/{gateId}',
  ];
  const dir = folder({ 'canal.routes.yaml': `routeTable: 1\nroutes:\n${routes.map((r, i) => `  - ${r} -> h${i}\n`).join('')}` });
  await rehearse(dir, [origin, '--methods', 'GET,POST,DELETE']);
  close();
  const [post = '', read, gone, end] = asked.slice(asked.findIndex((a) => a.startsWith('POST')));
  const item = `${post.slice('POST '.length)}/g1`;
  expect(post).not.toContain('elm');
  expect([read, gone, end]).toEqual([`GET ${item}`, `DELETE ${item}`, `GET ${item}`]);
});

test('--sample-values: by name, and by path before it', async () => {
  const { app, asked } = lockService();
  const { origin, close } = await listening((port) => app.listen(port, '127.0.0.1'));
  const files = { 'canal.routes.yaml': `${TABLE}  - GET /gates/{lockId} -> gates.read\n` };
  const dir = folder({ ...files, 'values.yaml': 'lockId: oak\n/gates/{lockId}: { lockId: "a/b" }\n', 'list.yaml': '- 7\n' });
  await rehearse(dir, [origin, '--sample-values', 'values.yaml']);
  const wrong = await rehearse(dir, [origin, '--sample-values', 'list.yaml']);
  close();
  expect(asked).toEqual(['GET /locks', 'GET /locks/oak', 'GET /gates/a%2Fb']);
  expect([wrong.status, wrong.err]).toEqual([2, expect.stringContaining('expected values by the names of parameters')]);
});

test('a service that sends a secret back -> it is printed nowhere', async () => {
  const app = express();
  app.use((request, response) => void response.status(404).location(`/x?${request.headers.authorization}`).json({}));
  const { origin, close } = await listening((port) => app.listen(port, '127.0.0.1'));
  const dir = folder({ 'canal.routes.yaml': TABLE });
  for (const format of ['text', 'json']) {
    const args = [origin, '--format', format, '--header', 'Authorization: Bearer $TOKEN'];
    const { out, err, status } = await rehearse(dir, args, { TOKEN: 'hunter"2/z' });
    expect([status, out]).toEqual([1, expect.stringContaining('$TOKEN')]);
    expect(`${out}${err}`).not.toMatch(/hunter/u);
  }
  close();
});

test.each([
  ['closes at once', (_: unknown, end: () => void) => end(), 'closed before an answer came'],
  ['sends garbage', (write: (text: string) => void) => write('elm\r\n\r\n'), 'no HTTP'],
  ['says nothing', () => undefined, 'no answer came in time'],
] as const)('a service that %s -> a sentence and status 2', async (_, answer, words) => {
  const server = createServer((socket) => {
    socket.on('error', () => undefined);
    socket.on('data', () =>
      answer(
        (text) => void socket.write(text),
        () => void socket.destroy(),
      ),
    );
  });
  const { origin, close } = await listening((port) => server.listen(port, '127.0.0.1'));
  const ran = await rehearse(folder({ 'canal.routes.yaml': TABLE }), [origin, '--timeout', '300']);
  close();
  expect(ran).toMatchObject({ status: 2, out: '', err: expect.stringContaining(words) });
});

// A stand-in for the towpath patrol's service, to rehearse against: start it, then
// elm-gate rehearse http://127.0.0.1:PORT --service towpath-patrol --unmounted --facts
// It differs from its list on purpose: letter case does not count, /benches/7/paint was
// never put in, and nobody thought of HEAD /walks.
import { createServer } from 'node:http';

const walks = [{ walkId: 12, from: 'Elm Gate', to: 'Tarn Basin' }];
const benches = [{ benchId: 31, near: 'lock 7' }];
const one = (list, name, key) => list.find((item) => String(item[name]) === key);
const ROUTES = [
  [/^\/walks$/i, () => walks],
  [/^\/walks\/(\d+)$/i, (key) => one(walks, 'walkId', key)],
  [/^\/benches$/i, () => benches],
  [/^\/benches\/(\d+)$/i, (key) => one(benches, 'benchId', key)],
];

const server = createServer(({ method, url = '/' }, response) => {
  const [path] = url.split('?');
  const route = ROUTES.find(([pattern]) => pattern.test(path));
  const send = (status, headers, body) => {
    response.writeHead(status, { 'Content-Type': 'application/json', ...headers });
    response.end(method === 'HEAD' ? undefined : JSON.stringify(body));
  };
  if (route === undefined) return send(404, {}, { title: 'Nothing here' });
  const [pattern, answer] = route;
  const methods = pattern === ROUTES[0][0] ? ['GET'] : ['GET', 'HEAD'];
  if (!methods.includes(method)) return send(405, { Allow: methods.join(', ') }, { title: 'Not this way' });
  const found = answer(pattern.exec(path)[1]);
  return found === undefined ? send(404, {}, { title: 'No such one' }) : send(200, {}, found);
});
server.listen(Number(process.env.PORT ?? 0), '127.0.0.1', () => {
  console.log(`http://127.0.0.1:${server.address().port}`);
});

/** Made-up route tables of any size, such as a company with many services has them: seeded, so that runs compare. */

/** A small generator of random numbers (mulberry32); returns numbers from 0 to 1. */
export function random(seed) {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

const WORDS = [
  'locks',
  'passages',
  'vessels',
  'basins',
  'berths',
  'stoppages',
  'tolls',
  'keepers',
  'gates',
  'moorings',
  'quays',
  'notices',
];
const TYPES = ['', ':int', ':uuid', ':slug', ''];
const SERVICES = 97;

/**
 * Routes of many services below one gateway: resources with their items, nested resources, literals beside parameters,
 * and `conflicts` of them (a share of 1) that really conflict. Each is `[method, path, handler]`.
 */
export function routes(count, { conflicts = 0.02, seed = 7 } = {}) {
  const next = random(seed);
  const pick = (list) => list[Math.floor(next() * list.length)];
  const out = [];
  const used = new Map();
  while (out.length < count) {
    const service = `/service-${Math.floor(next() * SERVICES)}`;
    const word = pick(WORDS);
    const nth = used.get(service + word) ?? 0;
    used.set(service + word, nth + 1);
    const base = `${service}/${word}${nth === 0 ? '' : `-${nth}`}`;
    const type = pick(TYPES);
    const item = `${base}/{${word.slice(0, -1)}Id${type}}`;
    const set = [
      ['GET', base],
      ['POST', base],
      ['GET', `${base}/closed`],
      ['GET', item],
      ['PUT', item],
      ['DELETE', item],
      ['GET', `${item}/history`],
      ['GET', `${item}/notes/{noteId:int}`],
    ];
    if (next() < conflicts * set.length) set.push(['GET', `${base}/{other${type}}`]);
    for (const [method, path] of set) if (out.length < count) out.push([method, path, `h${out.length}`]);
  }
  return out;
}

/** The same as a route table file. */
export function tableFile(list) {
  return `routeTable: 1\nservice: gateway\nrouter: { precedence: first-declared }\nroutes:\n${list.map(([m, p, h]) => `  - "${m} ${p} -> ${h}"\n`).join('')}`;
}

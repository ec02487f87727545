import { grouped } from '../../base/grouped.ts';
import { distance } from '../../base/nearest-word.ts';
import { operationTitle, type Parameter } from '../../contract/model/contract.ts';
import type { Selector } from '../../routes/request/requested-version.ts';
import { routeTitle } from '../../routes/table/route.ts';
import { type Context, spotOf } from '../engine/context.ts';
import { routeWitness } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const selectorDiffers: Rule = {
  id: 'versions/selector-differs',
  level: 'error',
  messages: {
    default: 'the default version {id} is not among the declared ones: {known}',
    document: 'the document names the version by the {place} {found}, and the settings by {wanted}',
    member: 'the document allows the version {id} in {wanted}, which the settings do not declare; there are {known}',
    route: '{title}{more} requires the {place} {found}, which looks like {wanted}, by which the settings select versions',
  },
  advice: {
    default: 'Declare version {id}, or name a declared one.',
    same: 'Write the same name in both; clients that follow the document get the default version.',
    declare: 'Declare version {id}, or remove it from the document.',
    spell: 'Write {wanted}, or use version: in place of a fixed {place}.',
  },
  meta: {
    what: 'Settings, document and routes that do not agree on where a request names its version, or on which versions there are.',
    why: 'Clients send the version under a name that the server does not read, so they get another version and no error.',
    example:
      '# elm-gate.yaml\nversioning: { selector: header, name: Desk-Version, default: "3", versions: [{ id: "1" }, { id: "2" }] }\n# document\nparameters: [{ name: X-Desk-Version, in: header, schema: { enum: ["1", "2", "7"] } }]',
    fix: 'Use one name for the header or query parameter in the settings, the document and the routes, and declare every version.',
  },
  check: (context) => {
    const { versioning } = context.service;
    if (versioning === undefined) return [];
    const selectors = [versioning, ...(versioning.also ?? [])];
    return [...undeclaredDefault(context), ...selectors.flatMap((s) => [...inDocuments(context, s), ...inRoutes(context, s)])];
  },
};

function undeclaredDefault({ service: { versioning, versionsAt } }: Context): readonly Found[] {
  const { default: id, versions = [] } = versioning ?? {};
  if (id === undefined || versions.includes(id) || versionsAt === undefined) return [];
  const place = { ...versionsAt, pointer: `${versionsAt.pointer}/default` };
  return [
    { message: 'default', advice: 'default', data: { id, known: versions.join(', ') }, at: { place, what: `default: ${id}` } },
  ];
}

/** Is one name the other with a slip or two? Short names are not: `q` is not a misspelt `v`. Letter case is no slip. */
function isMisspelt(found: string, name: string): boolean {
  const away = distance(found.toLowerCase(), name.toLowerCase());
  return away > 0 && away <= Math.min(2, Math.floor(Math.min(found.length, name.length) / 4));
}

/** Does a name speak of a version? */
const SPEAKS = /(?:^|[-_.])(?:api[-_]?)?version$|^v$|^ver$/iu;

function inDocuments(context: Context, { selector, name }: Selector): readonly Found[] {
  if (selector !== 'header' && selector !== 'query') return [];
  const all = context.service.contracts.flatMap((c) =>
    c.operations.flatMap((operation) =>
      operation.parameters.filter((p) => p.in === selector).map((parameter) => ({ operation, parameter })),
    ),
  );
  const isOwn = (p: Parameter): boolean =>
    selector === 'header' ? p.name.toLowerCase() === name.toLowerCase() : p.name === name;
  const isLike = (p: Parameter): boolean => SPEAKS.test(p.name) || isMisspelt(p.name, name);
  const own = all.filter((a) => isOwn(a.parameter));
  const like = own.length > 0 ? [] : all.filter((a) => isLike(a.parameter));
  const spot = ({ operation, parameter }: (typeof all)[number]) => ({ place: parameter.place, what: operationTitle(operation) });
  const named = grouped(like, (l) => l.parameter.name).map(
    ([first]): Found => ({
      // Another name that speaks of a version may be that of something else: of the client, of a format.
      level: isMisspelt(first.parameter.name, name) ? 'error' : 'warning',
      message: 'document',
      advice: 'same',
      data: { place: selector === 'query' ? 'query parameter' : 'header', found: first.parameter.name, wanted: name },
      at: spot(first),
    }),
  );
  const known = context.service.versioning?.versions ?? [];
  const members = [...own, ...like].flatMap((a) => {
    const k = a.parameter.schema?.keywords();
    const listed = typeof k === 'object' ? (k.enum ?? []) : [];
    return listed.flatMap((v) => (known.includes(String(v)) || v === null ? [] : [{ ...a, id: String(v) }]));
  });
  const undeclared = grouped(members, (m) => m.id).map(
    ([first]): Found => ({
      level: 'warning',
      message: 'member',
      advice: 'declare',
      data: { id: first.id, wanted: first.parameter.name, known: known.join(', ') },
      at: spot(first),
    }),
  );
  return [...named, ...undeclared];
}

/** Fixed headers or query values of routes that are the selector's name, misspelt. */
function inRoutes(context: Context, { selector, name }: Selector): readonly Found[] {
  if (selector !== 'header' && selector !== 'query') return [];
  const routes = context.router?.table.routes ?? [];
  const wrong = routes.flatMap((route) =>
    Object.keys((selector === 'header' ? route.conditions.headers : route.conditions.query) ?? {}).flatMap((found) =>
      isMisspelt(found, name) ? [{ route, found }] : [],
    ),
  );
  return grouped(wrong, (w) => w.found).map(([first, ...others]): Found => {
    const witness = routeWitness(context, first.route);
    return {
      message: 'route',
      advice: 'spell',
      data: {
        title: routeTitle(first.route),
        more: others.length === 0 ? '' : ` (and ${others.length} more)`,
        place: selector === 'query' ? 'query value' : 'header',
        found: first.found,
        wanted: name,
      },
      at: spotOf(first.route),
      related: others.map((o) => ({ role: 'the same', ...spotOf(o.route) })),
      ...(witness === undefined ? {} : { witness }),
    };
  });
}

/**
 * Reads an OpenAPI document of any edition into the contract model. What is malformed becomes a flaw with its place, and
 * the rest goes on; only a value that is no OpenAPI document at all is refused. Schemas are read when they are asked for.
 */
import { isMapping, type Mapping, textOr } from '../../base/json.ts';
import { lazy } from '../../base/lazy.ts';
import type { Schema } from '../../schema/model/schema.ts';
import { type At, child, type Dialect, type LoadFile, membersAt, newReader, placeOf, type Reader } from '../document/document.ts';
import { reportNearMisses } from '../document/near-keys.ts';
import { surveyDocument } from '../document/survey.ts';
import type { Contract } from '../model/contract.ts';
import { schemaAt } from '../read-schema/read-schema.ts';
import { itemsAt } from './operations.ts';
import { basesAt, hostsOf, trimmed } from './servers.ts';

export type ReadResult = { readonly ok: true; readonly contract: Contract } | { readonly ok: false; readonly message: string };

const ALONE: LoadFile = () => 'no other file was given';

/**
 * Reads a parsed document; `load` gives other files that it refers to, and `known` is whether it is sideless, where a survey
 * told. O(size of its paths, without their schemas).
 */
export function readContract(value: unknown, file: string, load: LoadFile = ALONE, known?: boolean): ReadResult {
  if (!isMapping(value)) return { ok: false, message: 'expected an OpenAPI document, which is a mapping' };
  const dialect = dialectOf(value.openapi ?? value.swagger);
  if (dialect === undefined)
    return { ok: false, message: 'expected an OpenAPI document: neither "openapi: 3.x" nor "swagger: 2.0" stands in it' };
  const reader = newReader(value, file, dialect, load);
  const root: At = { value, file, pointer: '' };
  reportNearMisses(reader, root as never, ROOT_KEYS, new Set(ROOT_KEYS));
  const info = isMapping(value.info) ? value.info : {};
  const schemas = lazy(() => componentSchemas(reader, root));
  const sideless = lazy(() => known ?? surveyDocument(value, Number.POSITIVE_INFINITY).sideless);
  const webhooks = lazy(() => itemsAt(reader, child(root, 'webhooks'), 'webhooks'));
  const contract: Contract = {
    title: textOr(info.title, file),
    version: info.version === undefined || info.version === null ? undefined : String(info.version),
    bases: dialect === '2.0' ? [trimmed(textOr(value.basePath, ''))] : (basesAt(reader, child(root, 'servers')) ?? ['']),
    hosts: hostsOf(value),
    operations: itemsAt(reader, child(root, 'paths'), 'paths'),
    get webhooks() {
      return webhooks();
    },
    schemes: schemeNames(value, dialect),
    get schemas() {
      return schemas();
    },
    flaws: reader.flaws,
    place: placeOf(root),
    get sideless() {
      return sideless();
    },
  };
  return { ok: true, contract };
}

function schemeNames({ securityDefinitions, components }: Mapping, dialect: Dialect): ReadonlySet<string> {
  const declared = dialect === '2.0' ? securityDefinitions : isMapping(components) ? components.securitySchemes : undefined;
  return new Set(isMapping(declared) ? Object.keys(declared) : []);
}

const ROOT_KEYS = [
  'openapi',
  'swagger',
  '$self',
  'info',
  'jsonSchemaDialect',
  'servers',
  'paths',
  'webhooks',
  'components',
  'security',
  'tags',
  'externalDocs',
  'host',
  'basePath',
  'schemes',
  'consumes',
  'produces',
  'definitions',
  'parameters',
  'responses',
  'securityDefinitions',
] as const;

function dialectOf(version: unknown): Dialect | undefined {
  const [edition] = /^[23]\.\d/u.exec(String(version ?? '')) ?? (version === 2 ? ['2.0'] : []);
  if (edition === '2.0' || edition === '3.0') return edition;
  return edition?.startsWith('3.') ? '3.1' : undefined;
}

function componentSchemas(reader: Reader, root: At): ReadonlyMap<string, Schema> {
  const at = reader.dialect === '2.0' ? child(root, 'definitions') : child(child(root, 'components'), 'schemas');
  return new Map(
    membersAt(reader, at, 'a mapping of schemas').flatMap(([name, item]) => {
      const schema = schemaAt(reader, item);
      return schema === undefined ? [] : [[name, schema] as const];
    }),
  );
}

/** What a file of TypeScript or JavaScript exports, read by a parser; nothing of it is run. */
import { parse } from '@babel/parser';

/** The exported names, `default` among them; undefined where it can't be read. O(text). */
export function exportsOf(text: string): readonly string[] | undefined {
  try {
    const { program } = parse(text, {
      sourceType: 'unambiguous',
      errorRecovery: true,
      plugins: ['typescript', 'jsx', 'decorators'],
    });
    return [...new Set(program.body.flatMap((node) => namesOf(node as never)))];
  } catch {
    return undefined;
  }
}

/** As much of a syntax tree as is looked at. */
interface Node {
  readonly type: string;
  readonly exportKind?: string;
  readonly declaration?: Node | null;
  readonly declarations?: readonly { readonly id: Node }[];
  readonly specifiers?: readonly { readonly exported: Node; readonly exportKind?: string }[];
  readonly id?: Node | null;
  readonly name?: string;
  readonly value?: unknown;
  readonly expression?: Node;
  readonly left?: Node;
  readonly right?: Node;
  readonly object?: Node;
  readonly property?: Node;
  readonly properties?: readonly { readonly key?: Node }[];
}

function namesOf(node: Node): readonly string[] {
  if (node.exportKind === 'type') return [];
  if (node.type === 'ExportDefaultDeclaration') return ['default'];
  if (node.type === 'ExportNamedDeclaration') {
    const declared = node.declaration;
    const own =
      declared?.declarations?.flatMap((d) => d.id.name ?? []) ?? (declared?.id?.name === undefined ? [] : [declared.id.name]);
    const isType = declared?.type === 'TSInterfaceDeclaration' || declared?.type === 'TSTypeAliasDeclaration';
    const listed = (node.specifiers ?? [])
      .filter((s) => s.exportKind !== 'type')
      .flatMap((s) => s.exported.name ?? String(s.exported.value ?? ''));
    return [...(isType ? [] : own), ...listed];
  }
  return node.type === 'ExpressionStatement' && node.expression?.type === 'AssignmentExpression' ? assigned(node.expression) : [];
}

/** `exports.GET = …`, `module.exports = { GET }`. */
function assigned({ left, right }: Node): readonly string[] {
  if (left?.type !== 'MemberExpression') return [];
  const [object, name] = [left.object, left.property?.name ?? ''];
  const isModule = object?.name === 'module' && name === 'exports';
  if (isModule)
    return right?.type === 'ObjectExpression' ? (right.properties ?? []).flatMap((p) => p.key?.name ?? []) : ['default'];
  const isExports = object?.name === 'exports' || (object?.object?.name === 'module' && object.property?.name === 'exports');
  return isExports ? [name] : [];
}

/** Builds what runs: the program with its compiled form, and the library in parts. Types come from the compiler. */
import { execFileSync } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';
import { build } from 'esbuild';

/**
 * The framework sorts command names by the rules of a language, for which Node.js loads tables at every start: 25 ms.
 * Command names are ASCII, so plain order is the same order. Where its text is another one day, nothing is replaced.
 */
const plainOrder = {
  name: 'plain-order',
  setup(bundle) {
    bundle.onLoad({ filter: /@oclif.core.lib.config.plugin\.js$/ }, ({ path }) => ({
      contents: readFileSync(path, 'utf8').replaceAll('a.id.localeCompare(b.id)', '(a.id < b.id ? -1 : 1)'),
    }));
  },
};

rmSync('dist', { recursive: true, force: true });
const common = {
  outdir: 'dist',
  platform: 'node',
  target: 'node20',
  minify: process.env.PLAIN === undefined,
  legalComments: 'linked',
  plugins: [plainOrder],
};

/**
 * Parts of Node.js and packages that the framework asks for when it is loaded, and that few runs use: each is loaded at its
 * first use. Only where CommonJS of the packages asks, which looks at them when it needs them and not before.
 */
const LATE_BUILTINS = ['crypto', 'perf_hooks', 'child_process', 'readline', 'readline/promises', 'net'].map((m) => `node:${m}`);
const LATE_PACKAGES = ['semver', 'ejs', 'tinyglobby', 'minimatch', 'clean-stack', 'wrap-ansi', 'cli-spinners', 'widest-line'];
/** What our own imports name and few runs use, with the names that are imported. */
const LATE_IMPORTS = {
  'node:crypto': ['createHash'],
  '@babel/parser': ['parse'],
  'csv-parse/sync': ['parse'],
  tinyglobby: ['globSync'],
  picomatch: [],
  undici: ['Pool'],
};
const late = {
  name: 'late',
  setup(bundle) {
    bundle.onResolve({ filter: /^[a-z@][\w@/:-]*$/ }, ({ path, importer, kind, resolveDir }) =>
      kind === 'import-statement' && path in LATE_IMPORTS && !importer.includes('node_modules')
        ? { path, namespace: 'late-import', pluginData: resolveDir }
        : undefined,
    );
    bundle.onLoad({ filter: /.*/, namespace: 'late-import' }, ({ path, pluginData }) => ({
      resolveDir: pluginData,
      loader: 'js',
      contents: `let known;
const real = () => (known ??= require(${JSON.stringify(path)}));
module.exports = Object.defineProperties((...args) => real()(...args), {
${LATE_IMPORTS[path].map((name) => `  ${name}: { enumerable: true, get: () => real().${name} },`).join('\n')}
});`,
    }));
    bundle.onResolve({ filter: /^(?:node:)?[a-z_/-]+$/ }, ({ path, importer, kind, namespace, resolveDir }) => {
      if (namespace === 'late' || kind !== 'require-call' || !importer.includes('node_modules')) return undefined;
      const builtin = path.startsWith('node:') ? path : `node:${path}`;
      const name = LATE_BUILTINS.includes(builtin) ? builtin : LATE_PACKAGES.includes(path) ? path : undefined;
      return name === undefined ? undefined : { path: name, namespace: 'late', pluginData: resolveDir };
    });
    bundle.onLoad({ filter: /.*/, namespace: 'late' }, ({ path, pluginData }) => ({
      resolveDir: pluginData,
      loader: 'js',
      contents: `let known;
const real = () => (known ??= require(${JSON.stringify(path)}));
module.exports = new Proxy(function () {}, {
  get: (_, key) => (key === '__esModule' ? undefined : real()[key]),
  has: (_, key) => key in real(),
  apply: (_, self, args) => Reflect.apply(real(), self, args),
});`,
    }));
  },
};
await build({
  ...common,
  entryPoints: {
    index: 'src/core/index.ts',
    schemas: 'src/files/formats/schemas.ts',
    docs: 'src/docs.ts',
    reading: 'src/reading.ts',
  },
  bundle: true,
  splitting: true,
  format: 'esm',
});
// The script of the HTML report, which stands in the page.
await build({
  ...common,
  entryPoints: { page: 'src/page/page.ts' },
  platform: 'browser',
  target: 'es2022',
  bundle: true,
  format: 'iife',
});
await build({
  ...common,
  plugins: [late],
  entryPoints: { start: 'src/start.ts' },
  bundle: true,
  format: 'cjs',
  outExtension: { '.js': '.cjs' },
});
// The program itself is one file, so that its compiled form can be kept: start.ts says why.
await build({
  ...common,
  plugins: [plainOrder, late],
  entryPoints: { program: 'src/main.ts' },
  // A package asks where it lies, to look for another one that is in this file already.
  banner: { js: "const importMetaUrl = 'file:///elm-gate/program.cjs';" },
  define: { 'import.meta.url': 'importMetaUrl' },
  // Read with ELM_GATE_DEBUG alone: a stack trace then points into src.
  sourcemap: 'linked',
  sourcesContent: false,
  bundle: true,
  format: 'cjs',
  outExtension: { '.js': '.cjs' },
  external: ['typescript', 'tsx', 'ts-node'],
  supported: { 'dynamic-import': false },
});
execFileSync(process.execPath, ['node_modules/typescript/bin/tsc', '-p', 'tsconfig.build.json'], { stdio: 'inherit' });

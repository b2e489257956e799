// @ts-check
/**
 * Finds packages that are named in package.json and imported nowhere, and packages that are
 * imported and not named: `npm run check` fails where there are some.
 */
import { readdirSync, readFileSync } from 'node:fs'
import { builtinModules } from 'node:module'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))

/** Packages that are run or read instead of imported, and where. */
const RUN = {
  '@biomejs/biome': 'the linter',
  typescript: 'the compiler',
  '@types/node': 'types of Node',
  '@types/culori': 'types of culori',
  '@types/papaparse': 'types of papaparse',
  '@types/pg': 'types of pg',
  '@types/picomatch': 'types of picomatch',
  '@types/react': 'types of react',
  '@types/react-dom': 'types of react-dom',
  'vnu-jar': 'the HTML checker',
}

/**
 * The package that an import names; undefined for files and for what Node brings.
 * @param {string} path
 */
export function packageNamed(path) {
  if (path.startsWith('.') || path.startsWith('node:') || builtinModules.includes(path)) return undefined
  const name = path
    .split('/')
    .slice(0, path.startsWith('@') ? 2 : 1)
    .join('/')
  return /^(@[\w-]+\/)?[a-z][\w.-]*$/.test(name) ? name : undefined
}

/**
 * What is named and not imported, and the other way round.
 * @param {readonly string[]} named @param {readonly string[]} texts of files that import @param
 *   {readonly string[]} dependencies names of the package itself
 */
export function compareImports(named, texts, dependencies) {
  const forms = [
    /^(?:import|export)\s[^'"]*?from '([^']+)'/gm,
    /^import '([^']+)'/gm,
    /\bimport\('([^']+)'\)/g,
    /\bresolve\('([\w@][^']*)'\)/g,
  ]
  const paths = texts.flatMap((text) => forms.flatMap((form) => [...text.matchAll(form)].map(([, path]) => path)))
  const imported = new Set(paths.flatMap((path) => packageNamed(path) ?? []))
  return {
    unused: named.filter((name) => !imported.has(name) && !Object.hasOwn(RUN, name)),
    unnamed: [...imported].filter((name) => !named.includes(name) && !dependencies.includes(name)),
  }
}

/** @param {string} folder @returns {string[]} */
function textsIn(folder) {
  return readdirSync(join(root, folder), { recursive: true, encoding: 'utf8' })
    .filter((file) => /\.(tsx?|js)$/.test(file) && !/(^|\/)(dist|node_modules)\//.test(file))
    .map((file) => readFileSync(join(root, folder, file), 'utf8'))
}

/** What of this project's packages is unused, and what is not named. */
export function unusedPackages() {
  const { name, dependencies, devDependencies, peerDependencies } = JSON.parse(
    readFileSync(join(root, 'package.json'), 'utf8'),
  )
  const named = [...new Set(Object.keys({ ...dependencies, ...devDependencies, ...peerDependencies }))]
  const texts = ['src', 'scripts', 'test', 'bench', 'examples'].flatMap(textsIn)
  return compareImports(named, [...texts, readFileSync(join(root, 'vitest.config.ts'), 'utf8')], [name])
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const { unused, unnamed } = unusedPackages()
  for (const name of unused) console.error(`${name} is in package.json and imported nowhere; take it out`)
  for (const name of unnamed) console.error(`${name} is imported and not in package.json; add it`)
  process.exitCode = unused.length + unnamed.length > 0 ? 1 : 0
}

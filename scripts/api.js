// @ts-check
/**
 * Writes docs/api/ from the doc comments of what the package exports: a page for each of its doors.
 * `npm run docs`; with --print the pages go to standard output as JSON, for the test that holds
 * them.
 */
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { basename, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import ts from 'typescript-lowest'

const root = fileURLToPath(new URL('..', import.meta.url))
const { exports: doors } = JSON.parse(readFileSync(join(root, 'package.json'), 'utf8'))

/** The doors of the package with the types behind them: `acuarela/report`. */
const ENTRIES = Object.entries(doors).flatMap(([path, door]) =>
  typeof door === 'object' ? [{ name: `acuarela${path.slice(1)}`, types: join(root, door.types) }] : [],
)

/** @param {string} name `acuarela/engine/duckdb` is engine-duckdb.md. */
const pageOf = (name) => `${name === 'acuarela' ? 'index' : name.replace('acuarela/', '').replaceAll('/', '-')}.md`

/**
 * What is exported, with the symbol that is declared.
 * @param {ts.TypeChecker} checker
 * @param {ts.SourceFile} file
 */
function exportsOf(checker, file) {
  const module = checker.getSymbolAtLocation(file)
  if (module === undefined) throw new Error(`${file.fileName} exports nothing`)
  return checker
    .getExportsOfModule(module)
    .map((symbol) => ({
      name: symbol.getName(),
      symbol: symbol.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(symbol) : symbol,
    }))
    .sort((a, b) => (a.name < b.name ? -1 : 1))
}

/** The text of a declaration, as one would write it. @param {ts.Declaration} declaration */
function textOf(declaration) {
  const whole = ts.isVariableDeclaration(declaration) ? declaration.parent.parent : declaration
  return whole
    .getText()
    .replace(/^(export )?(declare )?/, '')
    .replace(/^\s+private.*;\n?/gm, '')
}

/** @param {ts.TypeChecker} checker @param {{ name: string, symbol: ts.Symbol }} own */
function section(checker, { name, symbol }) {
  const about = ts.displayPartsToString(symbol.getDocumentationComment(checker)).trim()
  const tags = symbol.getJsDocTags(checker).flatMap((tag) => {
    const text = ts.displayPartsToString(tag.text).trim()
    if (tag.name === 'throws') return [`Throws ${text}`]
    return tag.name === 'param' ? [`\`${text.split(' ')[0]}\`: ${text.split(' ').slice(1).join(' ')}`] : []
  })
  const code = [...new Set((symbol.declarations ?? []).map(textOf))].join('\n\n')
  const list = tags.length === 0 ? '' : `\n${tags.map((tag) => `- ${tag.replaceAll('\n', ' ')}`).join('\n')}\n`
  return `## ${name}\n${about === '' ? '' : `\n${about}\n`}${list}\n\`\`\`ts\n${code}\n\`\`\`\n`
}

/** Every page of docs/api/, by its name. @returns {[name: string, text: string][]} */
export function apiPages() {
  const program = ts.createProgram(
    ENTRIES.map(({ types }) => types),
    {
      target: ts.ScriptTarget.ES2022,
      module: ts.ModuleKind.NodeNext,
      moduleResolution: ts.ModuleResolutionKind.NodeNext,
      skipLibCheck: true,
    },
  )
  const checker = program.getTypeChecker()
  /** @type {[name: string, text: string][]} */
  const pages = ENTRIES.map(({ name, types }) => {
    const file = program.getSourceFile(types)
    if (file === undefined) throw new Error(`${types} is not there: npm run build`)
    const exported = exportsOf(checker, file)
    const links = exported.map((exporting) => `[${exporting.name}](#${exporting.name.toLowerCase()})`).join(', ')
    const sections = exported.map((exporting) => section(checker, exporting)).join('\n')
    return [pageOf(name), `# ${name}\n\nMade from the doc comments by \`npm run docs\`.\n\n${links}\n\n${sections}`]
  })
  const list = ENTRIES.map(({ name }) => `- [\`${name}\`](${pageOf(name)})`).join('\n')
  return [
    ['README.md', `# The library, door by door\n\nMade from the doc comments by \`npm run docs\`.\n\n${list}\n`],
    ...pages,
  ]
}

/**
 * The exports that have no description, with their pages.
 * @param {readonly [name: string, text: string][]} pages
 */
function withoutDescription(pages) {
  return pages.flatMap(([name, text]) =>
    [...text.matchAll(/\n## (\w+)\n\n```/g)].map(([, heading]) => `${heading} (${name})`),
  )
}

if (basename(process.argv[1]) === 'api.js') {
  const pages = apiPages()
  if (process.argv[2] === '--print') process.stdout.write(JSON.stringify(pages))
  else {
    const folder = join(root, 'docs/api')
    rmSync(folder, { recursive: true, force: true })
    mkdirSync(folder, { recursive: true })
    for (const [name, text] of pages) writeFileSync(join(folder, name), text)
    const bare = withoutDescription(pages)
    if (bare.length > 0) {
      process.stderr.write(`exported without a doc comment: ${bare.join(', ')}\n`)
      process.exitCode = 1
    }
  }
}

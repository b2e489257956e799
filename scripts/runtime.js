// @ts-check
/**
 * Builds what live pages run: one part that every page has, and parts for what a page may hold,
 * each a function in `dist/live/parts.json`. The tool puts those together that a page needs, so
 * that it stays one file without a server and carries nothing that it never runs.
 */
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { join, relative } from 'node:path'
import Tinypool from 'tinypool'
import { build } from 'vite'

/**
 * Messages that the core imports and does not use go with the parts that use them. The core's own
 * are answer-sentences.
 */
const SENTENCES = /problem.catalogue.(?!answer-)/

/** As many threads as the machine has cores. */
const threads = new Tinypool({ filename: new URL('./minify-worker.js', import.meta.url).href, minThreads: 0 })

/** @type {import('terser').MinifyOptions} No getter of ours does anything but compute. */
const MINIFIER = { ecma: 2022, toplevel: true, compress: { passes: 3, unsafe_arrows: true, pure_getters: true } }

/** Begins a part where all are in one text. */
const MARK = '@part'

/** @param {string} root */
export async function buildRuntime(root) {
  const dist = join(root, 'dist')
  const cache = join(root, 'node_modules/.cache/acuarela-parts')
  const entry = join(dist, 'live/boot.js')
  const { EVERY_PAGE: everyPage } = await import(new URL('../dist/node/runtime.js', import.meta.url).href)
  /** @type {Map<string, string>} Names of parts, by the modules in them. */
  const names = new Map()
  const shortName = (/** @type {string} */ modules) => {
    const name = names.get(modules) ?? names.size.toString(36)
    names.set(modules, name)
    return name
  }
  /** @type {Set<string>} What every page has. */
  const always = new Set()
  const built = await build({
    root,
    configFile: false,
    logLevel: 'error',
    // In a library build this is left to the bundler of the application.
    define: { 'process.env.NODE_ENV': '"production"', 'typeof process': '"undefined"' },
    build: {
      write: false,
      minify: true,
      lib: { entry, formats: ['cjs'] },
      rollupOptions: {
        preserveEntrySignatures: false,
        output: {
          // Parts require each other by these names.
          chunkFileNames: ({ moduleIds }) => shortName(moduleIds.join()),
          entryFileNames: 'boot',
          codeSplitting: { groups: [{ name: 'core', test: (id) => always.has(id) && !SENTENCES.test(id) }] },
        },
      },
    },
    plugins: [
      {
        name: 'parts',
        enforce: 'pre',
        buildEnd() {
          /** @param {string} id */
          const reach = (id) => {
            if (always.has(id)) return
            always.add(id)
            for (const next of this.getModuleInfo(id)?.importedIds ?? []) reach(next)
          }
          for (const id of [entry, ...everyPage.map((/** @type {string} */ module) => join(dist, module))]) reach(id)
        },
      },
    ],
  })
  const [bundle] = Array.isArray(built) ? built : [built]
  if (!('output' in bundle)) throw new Error('nothing was built')
  const chunks = bundle.output.filter((chunk) => chunk.type === 'chunk')
  // The entry first, as it runs first.
  chunks.sort((a, b) => Number(b.isEntry) - Number(a.isEntry))
  const parts = chunks.map(async ({ code, imports, fileName, moduleIds }) => {
    return {
      /** The name by which others require it. */
      name: `./${fileName}`,
      /** Its own modules, by which it is selected. */
      modules: moduleIds.flatMap((id) =>
        always.has(id) || id.startsWith('\0') ? [] : [relative(dist, id).replaceAll('\\', '/')],
      ),
      /** Parts that it imports. */
      needs: imports.map((name) => `./${name}`),
      /** The packages inside it, with their licences. */
      holds: [...new Set(moduleIds.flatMap(packageOf))].sort(),
      code: await compressed(cache, code),
    }
  })
  const made = await Promise.all(parts)
  const codes = await shortened(
    cache,
    made.map(({ code }) => code),
  )
  // A script element ends at its first end tag.
  const escaped = codes.map((code) => code.replaceAll('</script', '<\\/script'))
  writeFileSync(join(dist, 'live/parts.json'), JSON.stringify(made.map((part, i) => ({ ...part, code: escaped[i] }))))
}

/**
 * A part, smaller: the bundler's own minifier leaves 1 % of the compressed script that this one
 * finds. It takes seconds, so a part that has not changed since the last build is taken from a
 * cache.
 *
 * @param {string} cache its folder
 * @param {string} code
 */
function compressed(cache, code) {
  // As a function, so that the names of its parameters are shortened, too.
  const text = `part(${JSON.stringify(MARK)},(exports,require)=>{${plain(code)}})`
  return kept(cache, text, { ...MINIFIER, mangle: false })
}

/**
 * Parts with short names, all at once: equal names for equal things compress better.
 *
 * @param {string} cache its folder
 * @param {readonly string[]} codes
 */
async function shortened(cache, codes) {
  const all = await kept(cache, codes.join('\n'), { ...MINIFIER, compress: false })
  const parts = all.split(`part(${JSON.stringify(MARK)},`).slice(1)
  if (parts.length !== codes.length) throw new Error('the minifier joined parts')
  return parts.map((code) => code.replace(/\)[;,]?$/, ''))
}

/**
 * What the minifier makes of a text, from a cache if it made it before.
 *
 * @param {string} cache its folder
 * @param {string} text
 * @param {import('terser').MinifyOptions} options
 * @returns {Promise<string>}
 */
async function kept(cache, text, options) {
  const hash = createHash('sha256').update(JSON.stringify(options)).update(text).digest('hex')
  const file = join(cache, `${hash}.js`)
  if (existsSync(file)) return readFileSync(file, 'utf8')
  const code = await threads.run({ text, options })
  if (code === undefined) throw new Error('the minifier gave nothing')
  mkdirSync(cache, { recursive: true })
  writeFileSync(`${file}.new`, code)
  renameSync(`${file}.new`, file)
  return code
}

/**
 * A part without what only foreign importers of a module need: the tag of its exports, and getters
 * for them, as no export is assigned twice; and with a shorter import of other parts.
 *
 * @param {string} code
 */
function plain(code) {
  return code
    .replace('Object.defineProperty(exports,Symbol.toStringTag,{value:`Module`});', '')
    .replace(
      /Object\.defineProperty\(exports,"(\w+)",\{enumerable:!0,get:function\(\)\{return (\w+)\}\}\)/g,
      'exports.$1=$2',
    )
    .replace(/Promise\.resolve\(\)\.then\(\(\)=>require\(("[^"]+")\)\)/g, 'require.later($1)')
}

/**
 * @param {string} id a module, for the package that it is of: `culori (MIT, Copyright (c) 2018 Dan
 * Burzo)`.
 */
function packageOf(id) {
  const match = /^(.*\/node_modules\/((?:@[^/]+\/)?[^/]+))\//.exec(id.replaceAll('\\', '/'))
  if (match === null) return []
  const [, folder, name] = match
  const { license } = JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8'))
  const file = readdirSync(folder).find((entry) => /^licen[cs]e/i.test(entry))
  const text = file === undefined ? '' : readFileSync(join(folder, file), 'utf8')
  const right = /^\W*(copyright[^\n]*\d{4}[^\n]*)$/im.exec(text)?.[1].trim() ?? ''
  return [`${name} (${[license, right].filter((part) => part !== '').join(', ')})`]
}

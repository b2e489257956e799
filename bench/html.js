// @ts-check
/**
 * How long does a painted table take to become HTML, beside a builder written by hand that escapes
 * and styles the same cells, and how large is the page? Also: how long the tool takes to start,
 * beside Node alone.
 */
import { execFileSync } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { toHtml } from 'acuarela/html'
import { openReport } from 'acuarela/report'
import { measure, report } from './measure.js'
import { random } from './random.js'

const MEASURES = ['a', 'b', 'c', 'd']

/** @param {number} cells @param {boolean} painted */
async function pageOf(cells, painted) {
  const next = random(3)
  const rows = cells / MEASURES.length
  const lines = ['shop,a,b,c,d']
  for (let i = 0; i < rows; i++)
    lines.push([`Shop & garden ${i}`, ...MEASURES.map(() => Math.round(90000 * next()))].join(','))
  const report = {
    title: 'Bench',
    locale: 'en-GB',
    sources: { s: { file: 's.csv' } },
    measures: Object.fromEntries(MEASURES.map((m) => [m, { formula: `sum(${m})`, format: 'money EUR 0' }])),
    statuses: {
      ahead: { label: 'On target', wash: 'aqua', icon: 'tick' },
      close: { label: 'Near target', wash: 'straw', icon: 'dash' },
      behind: { label: 'Behind', wash: 'coral', icon: 'cross' },
    },
    rules: painted
      ? [
          {
            paint: MEASURES,
            bands: [{ atLeast: 60000, status: 'ahead' }, { atLeast: 40000, status: 'close' }, { otherwise: 'behind' }],
          },
        ]
      : [],
    exhibits: [{ name: 't', table: { rows: 'shop', show: MEASURES } }],
  }
  return openReport(/** @type {any} */ (report), { s: `${lines.join('\n')}\n` })
}

const ENTITIES = /** @type {Record<string, string>} */ ({
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&#39;',
})
/** @param {string} text */
const escaped = (text) => (/[&<>"']/.test(text) ? text.replace(/[&<>"']/g, (c) => ENTITIES[c]) : text)

/**
 * The same cells by hand: a class a status, an icon, the words, the number.
 * @param {import('acuarela/report').Page} page
 */
function byHand(page) {
  const [exhibit] = page.exhibits
  if (!('rows' in exhibit)) throw new Error('a table was expected')
  const kinds = /** @type {Record<string, string>} */ ({ ahead: 'l1', close: 'l2', behind: 'l3' })
  let out = ''
  for (const { heading, cells } of exhibit.rows) {
    out += `<tr><th scope="row"><span>${escaped(heading.text)}</span></th>`
    for (const cell of cells) {
      if (cell === null) out += '<td></td>'
      else if (cell.style.status === null) out += `<td><span><b>${escaped(cell.text)}</b></span></td>`
      else
        out += `<td><span class="dab ${kinds[cell.style.status]}"><svg class="i" aria-hidden="true"><use href="#i-${cell.style.icon}"/></svg><span class="v">${escaped(cell.statusText)}, </span><b>${escaped(cell.text)}</b></span></td>`
    }
    out += '</tr>\n'
  }
  // Reading a string that was concatenated copies it once.
  return Buffer.byteLength(out)
}

/** @param {number[]} list */
const median = (list) => [...list].sort((x, y) => x - y)[list.length >> 1]

/** @param {string[]} args */
function started(args) {
  const start = performance.now()
  execFileSync(process.execPath, args, { stdio: 'ignore' })
  return performance.now() - start
}

/** @param {number[]} [sizes] @param {number} [times] */
export async function htmlBench(sizes = [10_000, 100_000], times = 15) {
  for (const cells of sizes) {
    const page = await pageOf(cells, true)
    const plain = await pageOf(cells, false)
    // Small pages are written often and must be warm; a text is flat once its bytes were counted.
    const rounds = cells <= 10_000 ? 3 * times : times
    const turns = await measure(
      {
        acuarela: async () => Buffer.byteLength(await toHtml(page)),
        'a builder by hand': () => byHand(page),
      },
      { rounds, warm: rounds },
    )
    const text = (/** @type {typeof page} */ of) => {
      const [exhibit] = of.exhibits
      return 'rows' in exhibit
        ? exhibit.rows.reduce(
            (sum, row) =>
              sum +
              row.cells.reduce(
                (n, c) => n + Buffer.byteLength(c?.text ?? '') + Buffer.byteLength(c?.statusText ?? ''),
                0,
              ),
            0,
          )
        : 0
    }
    const heads = exhibitHeads(plain)
    const size = async (/** @type {typeof page} */ of) =>
      (Buffer.byteLength(await toHtml(of)) - text(of) - heads) / cells
    report(`${cells.toLocaleString('en')} painted cells to HTML, median of ${rounds}`, turns)
    console.log(
      `  over its text a plain cell takes ${(await size(plain)).toFixed(0)} bytes, one with icon and status ${(await size(page)).toFixed(0)}`,
    )
  }
  const bin = fileURLToPath(new URL('../dist/cli/acuarela.js', import.meta.url))
  const pairs = Array.from({ length: times }, () => [started([bin, '--help']), started(['-e', '0'])])
  const [help, bare] = [0, 1].map((k) => median(pairs.map((pair) => pair[k])))
  console.log(`the tool's start, median of ${times}`)
  console.log(
    `  acuarela --help              ${help.toFixed(1).padStart(9)} ms   ${(help / bare).toFixed(2)} × Node alone`,
  )
  console.log(`  node -e 0                    ${bare.toFixed(1).padStart(9)} ms   the measure`)
}

/**
 * What the headings of rows take, which are no cells.
 * @param {import('acuarela/report').Page} page
 */
function exhibitHeads(page) {
  const [exhibit] = page.exhibits
  return 'rows' in exhibit
    ? exhibit.rows.reduce(
        (sum, { heading }) =>
          sum + Buffer.byteLength(`<tr><th scope="row"><span>${escaped(heading.text)}</span></th></tr>\n`),
        0,
      )
    : 0
}

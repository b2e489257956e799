// @ts-check
/**
 * Two hundred rules as sentences, beside the same rules in keys: read and bound as a table would be
 * painted by them, and as a report file.
 */
import { completeSentence, createPainter, fromColumns } from 'acuarela'
import { openReport } from 'acuarela/report'
import { stringify } from 'yaml'
import { measure, report } from './measure.js'

const MEASURES = 100

/** @param {number} count */
export async function sentencesBench(count) {
  const names = Array.from({ length: MEASURES }, (_, i) => `measure${i}`)
  const table = fromColumns({
    region: ['Coast', 'Valley', 'Coast'],
    ...Object.fromEntries(names.map((name, i) => [name, Float64Array.of(i, 2, 3)])),
  })
  const statuses = { ahead: { wash: 'aqua' }, close: { wash: 'straw' }, behind: { wash: 'coral' } }
  const parameters = { target: 50, slack: '15%' }
  const keyed = Array.from({ length: count }, (_, i) => ruleOf(names[i % MEASURES], i))
  const vocabulary = { statuses, parameters }
  const said = createPainter(table, { ...vocabulary, rules: /** @type {any} */ (keyed) })
    .paint(table)
    .rules()
    .map(({ sentence }) => sentence)
  const bound = await measure(
    {
      'as sentences': () => createPainter(table, { ...vocabulary, rules: said }),
      'in keys': () => createPainter(table, { ...vocabulary, rules: /** @type {any} */ (keyed) }),
    },
    { rounds: 15, warm: 25 },
  )
  report(`${count} rules over ${MEASURES} measures, checked and bound for a table`, bound)
  const file = (/** @type {unknown} */ rules) =>
    stringify({
      title: 'Rules',
      sources: { sales: { file: 'sales' } },
      measures: Object.fromEntries(names.map((name) => [name, `sum(column('${name}'))`])),
      ...vocabulary,
      rules,
      exhibits: [{ table: { rows: 'region', show: names.slice(0, 2) } }],
    })
  const [inSentences, inKeys] = [file(said), file(keyed)]
  // A text that was read just before is not parsed again, so each round has a text of its own.
  let round = 0
  const read = await measure({
    'as sentences': () => openReport(`${inSentences}# ${++round}\n`, { sales: table }),
    'in keys': () => openReport(`${inKeys}# ${++round}\n`, { sales: table }),
  })
  report(`a report file of ${count} rules, read, bound and painted`, read)
  await completionBench(names)
}

/**
 * What may stand next at each word of a sentence, over a report of a hundred measures, beside a
 * search through its names for what is begun: the least that an editor does.
 * @param {readonly string[]} names
 */
async function completionBench(names) {
  const text =
    'measure1 of each region within region: at least 80% of measure2 → ahead and bold; otherwise → behind, final'
  const things = names.map((id) => ({ id, label: `Measure ${id}`, is: /** @type {const} */ ('measure') }))
  const known = { values: things, statuses: [{ id: 'ahead', label: 'Ahead' }], exhibits: [], pigments: [] }
  const places = [...text.matchAll(/ /g)].map(({ index }) => index + 1)
  const times = await measure({
    [`${places.length} completions`]: () => places.map((at) => completeSentence(text, at, known)),
    'searches by hand': () =>
      places.map((at) => {
        const begun = /[a-z0-9]*$/.exec(text.slice(0, at))?.[0] ?? ''
        return things.filter(({ id, label }) => id.startsWith(begun) || label.toLowerCase().includes(begun))
      }),
  })
  report(`completions over ${names.length} measures`, times)
}

/** @param {string} name @param {number} i */
function ruleOf(name, i) {
  const kinds = [
    {
      bands: [
        { atLeast: 'target', status: 'ahead' },
        { atLeast: '80% of target', status: 'close' },
        { otherwise: 'behind' },
      ],
    },
    { within: 'region', rank: { top: 3, style: { weight: 'bold', icon: 'up' } } },
    { gradient: { ramp: ['paper', 'aqua'], from: 0, to: 'percentile(value, 95%)' }, hide: 'value' },
    { where: "region = 'Coast'", bands: [{ above: 'mean(value) within region', style: { ink: 'coral' } }] },
  ]
  return { paint: name, ...kinds[i % kinds.length] }
}

import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { parse } from 'yaml'
import { ROOT } from '../support/tool.js'

const BREZAL = join(ROOT, 'examples/brezal')

/** The example files by name. */
export const EXAMPLES: readonly (readonly [name: string, text: string])[] = readdirSync(BREZAL)
  .filter((name) => name.endsWith('.acuarela.yaml'))
  .map((name) => [name, readFileSync(join(BREZAL, name), 'utf8')])

const [, SPRING] = EXAMPLES.find(([name]) => name === 'spring.acuarela.yaml') ?? ['', '']

/** Lists without indentation, comments in every place, block texts, brackets over lines. */
export const SPELLINGS: readonly (readonly [name: string, text: string])[] = [
  ['JSON in lines', `${JSON.stringify(parse(SPRING), null, 2)}\n`],
  ['JSON on one line', JSON.stringify(parse(SPRING))],
  [
    'lists without indentation',
    `# The file
title: 'Lists'   # a title

# about the sources
sources:
  sales: { file: sales.csv, date: date }
measures:
  revenue: sum(amount)
  # the plan
  plan: sum(cost)          # aligned
  gap: revenue - plan      # aligned, too
parameters:
statuses:
    ahead: {wash: aqua}
    behind: {wash: coral}

    # a tail of statuses
rules:
# about the first
- revenue: at least plan → ahead   # good
  # deeper below the first
- name: second
  paint: gap
  bands:
  - above: 5
    status: ahead
  # between the bands
  - below: -5
    status: behind

# floats

- { say: 'gap: top 3 → bold', name: third }
exhibits:
- name: shops
  table:
    rows: [ region , shop ]
    show:
    - revenue
    - { show: gap, draw: point }
# the end
`,
  ],
  [
    'brackets over lines',
    `title: "Brackets"
sources: {
  sales: { file: sales.csv },   # home
  # looked up
  shops: { file: shops.csv, lookup: true, match: shop },
}
measures: { revenue: sum(amount),
  plan: "sum(cost)" }
statuses: { ahead: { label: "On target", wash: aqua },
            behind: { wash: coral } }   # two
rules: [
  # the first
  { paint: revenue, bands: [ { atLeast: plan, status: ahead }, { otherwise: behind } ] },   # bands
  "revenue: top 3 → bold",
  { name: last, say: "plan: bottom 2 → bold" }
]
exhibits: [ { name: shops, table: { rows: shop, show: [ revenue, plan ] } } ]
`,
  ],
  [
    'block texts',
    `title: Block texts
note: |
  Two lines
  of a note

sources: { sales: { file: sales.csv } }
measures:
  revenue:
    formula: >-
      sum(amount)
      - sum(cost)
    label: Net
  plan: |-
    sum(cost)
statuses: { ahead: { wash: aqua }, behind: { wash: coral } }
rules:
  - say: >
      revenue: at least plan → ahead;
      otherwise → behind
    name: first
  - |-
    plan: top 3 → bold
  - - not a rule
exhibits:
  - name: shops

    table: { rows: shop,
      show: revenue }
`,
  ],
]

export const VARIANTS: readonly ((text: string) => string)[] = [
  (text) => text,
  (text) => text.replaceAll('\n', '\r\n'),
  (text) => `\uFEFF${text}`,
  (text) => text.trimEnd(),
]

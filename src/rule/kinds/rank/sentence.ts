import type { RankSpec } from '../../../spec/rules.js'
import {
  either,
  type Leaf,
  type Part,
  type Production,
  sequence,
  sign,
  slot,
  words,
} from '../../grammar/productions.js'
import type { SentenceReader } from '../../grammar/reader.js'
import { outcome, result, size } from '../../grammar/results.js'
import { under } from '../../grammar/under.js'
import { nameInSentence } from '../../grammar/words.js'

const arrow = sign('→')
const ENDS = (['top', 'bottom', 'best', 'worst'] as const).map((end) =>
  sequence(words(end), slot(end, size), arrow, result),
)

const measure: Leaf<string> = {
  ebnf: 'name',
  read: (reader) => reader.name('values', 'a measure'),
  write: nameInSentence,
}
const byCount = sequence(words('split'), slot('share', size), arrow, result)
const byAmount = sequence(words('making'), slot('share', size), words('of'), slot('of', measure), arrow, result)
const next = sequence(words('next'), slot('share', size), arrow, result)
const rest = sequence(words('otherwise'), arrow, slot('otherwise', outcome))

/** `split 50% → ahead; next 20% → close; otherwise → behind`, or `making 80% of revenue → bold`. */
const split: Production = {
  ebnf: `( ${byCount.ebnf} | ${byAmount.ebnf} ) { ";" ${next.ebnf} } [ ";" ${rest.ebnf} ]`,
  leads: ['split', 'making'],
  read: (reader) => reader.attempt(() => readSplit(reader)),
  write({ split: parts, of }: RankSpec & Part) {
    if (parts === undefined) return undefined
    const shares = parts.filter(({ share }) => share !== undefined)
    const texts = shares.map((part, i) =>
      i > 0
        ? next.write(part as Part)
        : of === undefined
          ? byCount.write(part as Part)
          : byAmount.write({ ...part, of }),
    )
    const others = parts.find(({ otherwise }) => otherwise !== undefined)
    if (others !== undefined) texts.push(rest.write(others as Part))
    return texts.includes(undefined) || texts.length === 0 ? undefined : texts.join('; ')
  },
}

function readSplit(reader: SentenceReader): Part | undefined {
  const part = (form: Production, i: number): Part | undefined => reader.under(['split', i], () => form.read(reader))
  const first = part(byCount, 0) ?? part(byAmount, 0)
  if (first === undefined) return undefined
  const { of, ...share } = first
  const parts = [share]
  while (reader.sign(';')) {
    const more = part(next, parts.length) ?? part(rest, parts.length)
    if (more === undefined) return undefined
    parts.push(more)
    if ('otherwise' in more) break
  }
  return { split: parts, ...(of !== undefined && { of }) }
}

/** `best 3 → leading`, or the parts of a split. */
export const clauses: Production = under('rank', either(...ENDS, split))

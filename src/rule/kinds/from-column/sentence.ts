import type { FromColumnSpec } from '../../../spec/rules.js'
import {
  either,
  type Leaf,
  named,
  type Part,
  type Production,
  sequence,
  slot,
  words,
} from '../../grammar/productions.js'
import { under } from '../../grammar/under.js'
import { nameInSentence } from '../../grammar/words.js'

const column: Leaf<string> = {
  ebnf: 'name',
  read: (reader) => reader.name('values', 'a column'),
  write: nameInSentence,
}

const CHANNELS = [
  ['status', 'status'],
  ['fill', 'fill'],
  ['ink', 'text'],
  ['icon', 'icon'],
  ['picture', 'picture'],
] as const
const forms = CHANNELS.map(([key, word]) => sequence(words(`${word} from column`), slot(key, column)))
const one = named('column', either(...forms))

const columns: Production = {
  ebnf: 'column { ";" column }',
  leads: one.leads,
  read: (reader) =>
    reader.attempt(() => {
      const part: Part = {}
      do {
        const read = one.read(reader)
        if (read === undefined) return undefined
        Object.assign(part, read)
      } while (reader.sign(';'))
      return part
    }),
  write(part: FromColumnSpec & Part) {
    const texts = forms.flatMap((form) => form.write(part) ?? [])
    return texts.length === 0 ? undefined : texts.join('; ')
  },
}

/** `status from column state; fill from column tint`. */
export const clauses: Production = { ...under('fromColumn', columns), parts: [one] }

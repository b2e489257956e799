import { end, limit } from '../../grammar/expressions.js'
import { maybe, type Production, sequence, sets, slot, words } from '../../grammar/productions.js'
import { color } from '../../grammar/results.js'
import { under } from '../../grammar/under.js'

/** `fading indigo bar with coral for negatives from 0 to 120% of target`. */
export const clauses: Production = under(
  'bar',
  sequence(
    maybe(sets('finish', 'fading', 'fading')),
    maybe(slot('color', color)),
    words('bar'),
    maybe(sequence(words('with'), slot('negative', color), words('for negatives'))),
    maybe(sequence(words('from'), slot('from', end))),
    maybe(sequence(words('to'), slot('to', end))),
    maybe(sequence(words('around'), slot('base', limit))),
  ),
)

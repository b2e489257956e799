import { nameInSentence, type WriteClauses } from '../sentence-parts.js'

const CHANNELS = [
  ['status', 'status'],
  ['fill', 'fill'],
  ['ink', 'text'],
  ['icon', 'icon'],
  ['picture', 'picture'],
] as const

/** `status from column state; fill from column tint`. */
export const writeClauses: WriteClauses = ({ fromColumn = {} }) =>
  CHANNELS.flatMap(([key, word]) => {
    const column = fromColumn[key]
    return column === undefined ? [] : [`${word} from column ${nameInSentence(column)}`]
  }).join('; ')

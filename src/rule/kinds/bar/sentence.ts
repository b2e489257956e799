import { colorInSentence, endsInSentence, type WriteClauses } from '../sentence-parts.js'

/** `fading indigo bar with coral for negatives from 0 to 120% of target`. */
export const writeClauses: WriteClauses = ({ bar = {} }) => {
  const { color, negative, finish, from, to, base } = bar
  const words = [
    ...(finish === 'fading' ? ['fading'] : []),
    ...(color === undefined ? [] : [colorInSentence(color)]),
    'bar',
  ]
  const other = negative === undefined ? '' : ` with ${colorInSentence(negative)} for negatives`
  return `${words.join(' ')}${other}${endsInSentence({ from, to, around: base })}`
}

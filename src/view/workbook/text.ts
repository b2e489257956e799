import { escapeText } from '../markup.js'

/** The markup of a text in a cell: a paragraph for each line, runs of spaces as elements. */
export function paragraphs(text: string): string {
  if (text === '') return ''
  if (!ODD.test(text)) return `<text:p>${escapeText(text)}</text:p>`
  return text
    .split(/\r\n|\r|\n/)
    .map((line) => `<text:p>${spaced(line)}</text:p>`)
    .join('')
}

// White space is one space in a paragraph, and none at its ends.
const ODD = /[\n\r\t]|^ | $| {2}/

function spaced(line: string): string {
  return line
    .split(/(\t|^ +| +$| {2,})/)
    .map((part) => {
      if (part === '\t') return '<text:tab/>'
      return /^ +$/.test(part) && (part.length > 1 || line.startsWith(part) || line.endsWith(part))
        ? `<text:s text:c="${part.length}"/>`
        : escapeText(part)
    })
    .join('')
}

/** A name of a sheet that every program takes, and that none of `taken` has. */
export function sheetName(title: string, taken: Set<string>): string {
  const plain = title
    .replace(/[[\]*?:/\\\p{Cc}]+/gu, ' ')
    .replace(/\s+/g, ' ')
    .trim()
    .replace(/^'+|'+$/g, '')
    .trim()
  const base = shortened(plain === '' ? 'Sheet' : plain, MOST)
  let name = base
  for (let n = 2; taken.has(name.toLowerCase()); n++) name = `${shortened(base, MOST - String(n).length - 1)} ${n}`
  taken.add(name.toLowerCase())
  return name
}

/** The longest name that programs take. */
const MOST = 31

/** Without half a character at its end. */
function shortened(text: string, most: number): string {
  let short = ''
  for (const sign of text) {
    if (short.length + sign.length > most) break
    short += sign
  }
  return short.trim()
}

/** A sheet as part of an address: `'In short'`. */
export function quotedSheet(name: string): string {
  return `'${name.replaceAll("'", "''")}'`
}

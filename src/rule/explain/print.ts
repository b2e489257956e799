import type { Unit } from '../../expression/unit.js'
import { type NumberFormat, type NumberPrinter, numberPrinter, PLAIN_FORMAT, readFormat } from '../../format/format.js'

/** Prints a number in its written format, else by its unit with up to 2 decimals. */
export function printerFor(format: string | undefined, unit: Unit, locale: string): NumberPrinter {
  return numberPrinter(formatFor(format, unit), locale)
}

export function formatFor(format: string | undefined, unit: Unit): NumberFormat {
  const read = format === undefined ? undefined : readFormat(format)
  if (read !== undefined) return read
  if (unit.is === 'money') return { ...PLAIN_FORMAT, kind: 'money', currency: unit.currency }
  return unit.is === 'percent' ? { ...PLAIN_FORMAT, kind: 'percent' } : PLAIN_FORMAT
}

import { numberPrinter, PLAIN_FORMAT } from '../../format/format.js'
import type { Strip, StripPart } from '../../page/page.js'

/** A strip in words, for all outputs. */
export interface StripWords {
  /** What is counted: exhibit, measure, number of cells. */
  caption: string
  /** The parts that have cells. */
  parts: readonly { part: StripPart; count: string }[]
}

/** @param locale a BCP 47 tag, for the numbers. */
export function stripWords({ exhibitTitle, measureLabel, count, parts }: Strip, locale: string): StripWords {
  const print = numberPrinter({ ...PLAIN_FORMAT, digits: 0 }, locale)
  return {
    caption: `${exhibitTitle} · ${measureLabel} · ${print(count)} ${count === 1 ? 'cell' : 'cells'}`,
    parts: parts.filter((part) => part.count > 0).map((part) => ({ part, count: print(part.count) })),
  }
}

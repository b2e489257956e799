/** What a page says about an earlier date that it is compared with. */

/** How the status of a cell changed: by its verdicts where they differ. */
export type Move = 'fell' | 'rose' | 'changed' | 'marked' | 'cleared'

/** What changed in an exhibit since an earlier date: numbers of detail cells. */
export interface SinceHead {
  /** ISO 8601. */
  date: string
  /** The date, both periods and the counts for readers. */
  text: string
  counts: Readonly<Record<Move | 'appeared' | 'gone', number>>
}

/** The former state of a cell whose status changed. */
export interface Was {
  move: Move
  /** The name of the status; null for none. */
  status: string | null
  value: number | string | null
  text: string
  /** The character that marks it: a triangle, a diamond, plus or minus. */
  sign: string
  /** For readers: `was Near target, €58,100 on 31 May 2025`. */
  words: string
}

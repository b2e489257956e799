/**
 * How days are cut into years and quarters. Every function of periods takes a calendar. A fiscal
 * year that begins in April has `yearStarts: 4`, and its quarters begin there, too.
 */
export interface Calendar {
  /** The month in which years begin, 1 to 12. */
  readonly yearStarts: number
}

/** Years from January to December: the default. */
export const CIVIL_CALENDAR: Calendar = { yearStarts: 1 }

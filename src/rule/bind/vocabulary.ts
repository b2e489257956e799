import type { Names } from '../../expression/bind.js'
import type { Type } from '../../expression/bound.js'
import type { Unit } from '../../expression/unit.js'
import type { Status } from '../../spec/rules.js'
import type { Palette } from '../../style/palette.js'
import type { Better } from '../../table/table.js'

/** A named number that limits refer to. */
export interface Parameter {
  value: number
  unit: Unit
  /** For readers; default: the name. */
  label?: string
}

/** What a rule has to know of a measure. */
export interface MeasureFacts {
  label: string
  /** A number with its unit, or unknown where the measure has a problem of its own. */
  type: Type
  format?: string
  better?: Better
}

/** Everything that rules may name. */
export interface Vocabulary {
  statuses: Readonly<Record<string, Status>>
  palette: Palette
  parameters: ReadonlyMap<string, Parameter>
  measures: ReadonlyMap<string, MeasureFacts>
  /** Keys of exhibits, and columns that may agree inside a cell. */
  fields: Names
  /**
   * The file of a rule that is shared with other reports, by its place; undefined for the report's
   * own.
   */
  shared?: (index: number) => string | undefined
  /** Names for `only`; undefined where there are no exhibits. */
  exhibits?: readonly string[]
}

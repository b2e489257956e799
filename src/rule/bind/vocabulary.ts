import type { Names } from '../../expression/bind.js'
import type { Type } from '../../expression/bound.js'
import type { Unit } from '../../expression/unit.js'
import type { Status } from '../../spec/rules.js'
import type { Palette } from '../../style/palette.js'
import type { Better } from '../../table/table.js'

/** A named number for limits. */
export interface Parameter {
  value: number
  unit: Unit
  /** For readers; default: the name. */
  label?: string
}

/** The facts about a measure that rules use. */
export interface MeasureFacts {
  label: string
  /** A number with its unit; unknown if the measure has a problem. */
  type: Type
  format?: string
  better?: Better
}

/** The names that rules may use. */
export interface Vocabulary {
  statuses: Readonly<Record<string, Status>>
  palette: Palette
  parameters: ReadonlyMap<string, Parameter>
  measures: ReadonlyMap<string, MeasureFacts>
  /** Keys of exhibits, and columns that may be uniform within a cell. */
  fields: Names
  /** The included file of a shared rule, by its index; undefined for rules of the report. */
  shared?: (index: number) => string | undefined
  /** Names for `only`; undefined without exhibits. */
  exhibits?: readonly string[]
}

// Made by scripts/schema/make.js from the schema of reports.
// Change that, then run `npm run schema`.
import type { ColorName, IconName, PigmentName, Ramp } from './suggested.js'

/** A number, or an expression in which value is the judged value. */
export type Limit = number | string

/** The style of a cell; channels that are left out are left to other rules. */
export interface Style {
  /** A pigment: sets the fill and a readable ink together. */
  wash?: PigmentName | undefined
  /** A pigment or any CSS colour. */
  fill?: ColorName | undefined
  /** A pigment or any CSS colour. */
  ink?: ColorName | undefined
  /** Of the text. */
  weight?: 'bold' | 'normal' | undefined
  /**
   * An icon, a step of a family such as petals-2-of-5, or bySign: the arrow by the sign
   * of the judged value.
   */
  icon?: IconName | undefined
  /** Words with formatted values in them: '{growth} {status}'. */
  flag?: string | undefined
  /** An image file beside the report, or a data URL. */
  picture?: string | undefined
  /**
   * Hides the value or icon; it stays in tooltips, in exports and for assistive
   * technology.
   */
  hide?: 'value' | 'icon' | undefined
}

/** A state of a cell with its style. */
export interface Status extends Style {
  /** For readers; default: the name. */
  label?: string | undefined
  /** Whether it is good news; left out, it is neither. */
  verdict?: 'good' | 'fair' | 'bad' | undefined
}

/** A status by name, or a style. */
export type Outcome = string | Style

/**
 * A detail has every key of its exhibit, a total has none, a subtotal some of them.
 */
export type LevelName = 'detail' | 'subtotal' | 'total'

/** One band: its limits or condition, and its status or style. */
export interface BandSpec {
  /** A number, or an expression in which value is the judged value. */
  atLeast?: Limit | undefined
  /** A number, or an expression in which value is the judged value. */
  above?: Limit | undefined
  /** A number, or an expression in which value is the judged value. */
  atMost?: Limit | undefined
  /** A number, or an expression in which value is the judged value. */
  below?: Limit | undefined
  /** Plain text, number, period, true or false; never a name. */
  equals?: string | number | boolean | undefined
  /** Any of these values, as in equals. */
  in?: readonly (string | number | boolean)[] | undefined
  /** A part of the judged text. */
  contains?: string | undefined
  /** A free condition. */
  when?: string | undefined
  /** The status or style of a missing value, or of one compared with a missing limit. */
  missing?: Outcome | undefined
  /** The status or style of all other values; comes last. */
  otherwise?: Outcome | undefined
  /** A status by name. */
  status?: string | undefined
  /** A style without a status. */
  style?: Style | undefined
}

/** A scale of colours or icons, and its ends. */
export interface GradientSpec {
  /**
   * Pigments or colours from low to high; one pigment: paper to it; or badToGood, by the
   * direction of the measure.
   */
  ramp?: Ramp | readonly ColorName[] | undefined
  /** Instead of a ramp: icons from low to high, or a family: petals, arrows, stems. */
  icons?: IconName | readonly IconName[] | undefined
  /** The low end; default: lowest. */
  from?: Limit | undefined
  /** Default: 0 if the ends are on both sides of zero, else halfway. */
  middle?: Limit | undefined
  /** The high end; default: highest. */
  to?: Limit | undefined
  /** A number of steps; left out, the ramp is smooth. */
  steps?: number | undefined
  /** The channel that is set; default: fill, or icon with icons. */
  as?: 'fill' | 'ink' | 'icon' | undefined
}

/** A bar in each cell: its ends and its colours. */
export interface BarSpec {
  /** The left end; default: 0, or lowest if some values are negative. */
  from?: Limit | undefined
  /** The right end; default: highest, or 0 if all values are negative. */
  to?: Limit | undefined
  /** Where bars start; default: 0, or the end nearest to it. */
  base?: Limit | undefined
  /** A pigment or any CSS colour; default: stone. */
  color?: ColorName | undefined
  /** The colour left of the base; default: that of color. */
  negative?: ColorName | undefined
  /** Default: solid. */
  finish?: 'solid' | 'fading' | undefined
}

/** Which places of the population get something: one end of it, or parts of it. */
export interface RankSpec {
  /** A count, or a share such as 10%. */
  top?: number | string | undefined
  /** A count, or a share such as 10%. */
  bottom?: number | string | undefined
  /** The good end, by the direction of the measure. */
  best?: number | string | undefined
  /** A count, or a share such as 10%. */
  worst?: number | string | undefined
  /** Parts from best to worst, or from highest to lowest without a direction. */
  split?:
    | readonly {
        /** A count, or a share such as 10%. */
        share?: number | string | undefined
        /** A status by name, or a style. */
        otherwise?: Outcome | undefined
        /** A status by name. */
        status?: string | undefined
        /** A style without a status. */
        style?: Style | undefined
      }[]
    | undefined
  /**
   * What the shares of a split are shares of: a measure, or value; default: the number
   * of cells.
   */
  of?: string | undefined
  /** A status by name. */
  status?: string | undefined
  /** A style without a status. */
  style?: Style | undefined
}

/** The text columns that styles are taken from. */
export interface FromColumnSpec {
  /** A text column of names or labels of statuses. */
  status?: string | undefined
  /** A text column of pigments or CSS colours. */
  fill?: string | undefined
  /** A text column of pigments or CSS colours. */
  ink?: string | undefined
  /** A text column of icons. */
  icon?: string | undefined
  /** A text column of image files or data URLs. */
  picture?: string | undefined
}

/** The keys that every kind of rule may have. */
export interface RuleBase {
  /** An id, unique; default: derived from its title or kind. */
  name?: string | undefined
  /** For readers; default: the name. */
  title?: string | undefined
  /**
   * The measures, fields or row headings painted, each a population of its own; row is
   * whole rows, all every measure.
   */
  paint: string | readonly string[]
  /** The expression whose value decides; default: the painted one. */
  judge?: string | undefined
  /** Selects the painted cells, never the population. */
  where?: string | undefined
  /** Selects the population. */
  among?: string | undefined
  /** Each group is a population of its own. */
  within?: string | readonly string[] | undefined
  /** The keys that a cell must be split by for the rule to apply. */
  grain?: string | readonly string[] | undefined
  /** The exhibits it is for; default: all that show the measure. */
  only?: readonly string[] | undefined
  /**
   * The cells it is for: details, subtotals and the others of a key, totals, or all
   * three; default: detail.
   */
  levels?: LevelName | 'all' | readonly LevelName[] | undefined
  /**
   * The painted measures, or columns of records, are one population on one scale; their
   * units must agree.
   */
  oneScale?: boolean | undefined
  /** What it hides of the cells that it matches. */
  hide?: 'value' | 'icon' | undefined
  /**
   * Where its icons stand: before or after the number; a cell can have one at each side,
   * of two rules; default: before.
   */
  icon?: 'before' | 'after' | undefined
  /** No later rule paints the cells that it matches. */
  final?: boolean | undefined
  /** Kept, not applied. */
  paused?: boolean | undefined
  /**
   * Leaves cells unpainted whose own period ends after the date of the report; default:
   * painted.
   */
  unfinished?: 'unpainted' | undefined
}
/**
 * A rule as written, in a report file or as a plain object: exactly one of bands,
 * gradient, bar, rank, fromColumn decides.
 */
export type RuleSpec = RuleBase &
  (
    | {
        /** Limits in order; the first that holds decides. */
        bands: readonly BandSpec[]
        gradient?: undefined
        bar?: undefined
        rank?: undefined
        fromColumn?: undefined
      }
    | {
        /** Where the value lies between two ends, as a colour. */
        /** A scale of colours or icons, and its ends. */
        gradient: GradientSpec
        bands?: undefined
        bar?: undefined
        rank?: undefined
        fromColumn?: undefined
      }
    | {
        /** Where the value lies between two ends, as a bar in its cell. */
        /** A bar in each cell: its ends and its colours. */
        bar: BarSpec
        bands?: undefined
        gradient?: undefined
        rank?: undefined
        fromColumn?: undefined
      }
    | {
        /** The value's place in its population. */
        /** Which places of the population get something: one end of it, or parts of it. */
        rank: RankSpec
        bands?: undefined
        gradient?: undefined
        bar?: undefined
        fromColumn?: undefined
      }
    | {
        /** Text columns that already hold the answer. */
        /** The text columns that styles are taken from. */
        fromColumn: FromColumnSpec
        bands?: undefined
        gradient?: undefined
        bar?: undefined
        rank?: undefined
      }
  )
/** The kinds of rules, by their keys. */
export type RuleKindKey = 'bands' | 'gradient' | 'bar' | 'rank' | 'fromColumn'

/** A rule as a sentence, with a name or a title. */
export interface SaidRule {
  /** An id, unique; default: derived from its title or kind. */
  name?: string | undefined
  /** For readers; default: the name. */
  title?: string | undefined
  /**
   * A rule as one sentence: 'revenue of each shop: at least target → ahead; otherwise →
   * behind'.
   */
  say: string
}

/** A rule in keys, or as a sentence. */
export type WrittenRule = RuleSpec | SaidRule | string

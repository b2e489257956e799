export { colorText, type PackedColor } from './color/color.js'
export {
  createPainter,
  type Painter,
  type PaintSpec,
  paint,
  type TableCellStyle,
  type TablePainting,
} from './paint/painter.js'
export { CATALOGUE as FINDINGS, type CatalogueEntry, type FindingCode } from './problem/catalogue/findings.js'
export { printProblem } from './problem/print.js'
export {
  type Path,
  type Place,
  type Problem,
  type ProblemCode,
  ProblemError,
  type ProblemParams,
} from './problem/problem.js'
export type { Ignored, ProofFinding } from './proof/finding.js'
export { proof } from './proof/table.js'
export type { Rehearsal, Trial } from './rule/explain/rehearse.js'
export type { PartCount, StatusCount, Tally } from './rule/explain/tally.js'
export type { Why, WhyChannel, WhyRule } from './rule/explain/why.js'
export type { NamedThing, SentenceNames } from './rule/grammar/names.js'
export { type Completion, completeSentence } from './rule/sentence/complete.js'
export type {
  BandSpec,
  BarSpec,
  FromColumnSpec,
  GradientSpec,
  RankSpec,
  RuleSpec,
  SaidRule,
  Status,
  Style,
  WrittenRule,
} from './spec/rules.js'
export type { ParameterSpec } from './spec/sources.js'
export type { ColorName, IconName, PigmentName } from './spec/suggested.js'
export type { CellStyle, Channel } from './style/cell-style.js'
export type { Bar, Painted } from './style/painting.js'
export type { PaletteSpec } from './style/palette.js'
export {
  type ColumnKind,
  type ColumnOptions,
  fromColumns,
  fromRows,
  type NumberArray,
  type RowValue,
  type TableOptions,
} from './table/rows.js'
export type { Better, Table, TableColumn } from './table/table.js'

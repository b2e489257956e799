export { SIGHTS, type Sight, visionMatrix } from './color/color-vision.js'
export { STATISTICS } from './column/statistic.js'
export type { SessionPort } from './live/session/port.js'
export { CYCLES, PERIOD_UNITS } from './time/period.js'
export type { Opened, Workbench } from './workbench/calls.js'
export type { Looks, StatusLook } from './workbench/looks.js'
export type {
  ColumnView,
  PlotHandle,
  PlotLook,
  PopulationPlot,
  Preview,
  SourceView,
  WorkbenchState,
} from './workbench/model.js'
export { connectWorkbench, serveWorkbench, type WorkbenchCalls } from './workbench/port.js'
export type { ServedSource } from './workbench/sources.js'
export { themeColor } from './workbench/theme-color.js'
export { createWorkbench } from './workbench/workbench.js'

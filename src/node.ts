export { findBrowser, openPress, type PictureOptions, type Press } from './node/browser.js'
export { carryReportFile, livePageOf, openReportFile } from './node/report.js'

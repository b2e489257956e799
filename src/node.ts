export { findBrowser, openPress, type PictureOptions, type Press } from './node/browser.js'
export { carryReportFile, openReportFile } from './node/report.js'

export { findBrowser, openRenderer, type PageRenderer, type PictureOptions } from './node/browser.js'
export { bundleReportFile, livePageOf, openReportFile } from './node/report.js'

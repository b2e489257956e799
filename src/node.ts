export { findBrowser, openPress, type PictureOptions, type Press } from './node/browser.js'
export { serverDocument } from './node/document.js'
export { openReportFile } from './node/report.js'

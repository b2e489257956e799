export { serverDocument } from './node/document.js'
export { openReportFile } from './node/report.js'

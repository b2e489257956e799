// @ts-check
/** The browser of the built tool, for scripts and tests. */
export { BROWSER_FLAGS, findBrowser } from '../dist/node/browser.js'

// @ts-check
/**
 * Makes a bare clone ready: packages by the lock file, then the build; with --browser also a
 * Chromium for the tests. Does nothing that is done already. Only Node and npm are needed to run
 * it.
 */
import { execFileSync, spawnSync } from 'node:child_process'
import { existsSync, readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
const say = (/** @type {string} */ text) => process.stderr.write(`${text}\n`)

const [major, minor] = process.versions.node.split('.').map(Number)
// Older versions cannot require our ES modules.
if (major < 20 || (major === 20 && minor < 19) || major === 21 || (major === 22 && minor < 12)) {
  say(`acuarela needs Node 20.19, 22.12 or later, and this is ${process.versions.node}`)
  process.exit(2)
}
if (!packagesMatch()) {
  say('installing packages by the lock file …')
  const npm = process.env.npm_execpath
  const args = ['ci', '--no-audit', '--no-fund', '--loglevel=error']
  if (npm?.endsWith('.js')) execFileSync(process.execPath, [npm, ...args], { cwd: root, stdio: ['ignore', 2, 2] })
  else execFileSync('npm', args, { cwd: root, stdio: ['ignore', 2, 2], shell: process.platform === 'win32' })
}
await import('./build.js')
const { findBrowser } = await import('./browser.js')
if (process.argv.includes('--browser') && findBrowser() === undefined) installBrowser()

/**
 * npm keeps a copy of the lock file in node_modules: if the two list the same packages, nothing is
 * missing.
 */
function packagesMatch() {
  const kept = `${root}node_modules/.package-lock.json`
  if (!existsSync(kept)) return false
  const wanted = JSON.parse(readFileSync(`${root}package-lock.json`, 'utf8')).packages
  const have = JSON.parse(readFileSync(kept, 'utf8')).packages
  return Object.entries(wanted).every(
    ([path, entry]) =>
      path === '' || entry.optional === true || entry.peer === true || have[path]?.version === entry.version,
  )
}

function installBrowser() {
  const help =
    'the tests open pages in Chromium: install it (Debian: apt-get install chromium), or set ACUARELA_BROWSER to the path of one'
  const debian = existsSync('/etc/debian_version') && process.getuid?.() === 0
  if (debian) {
    say('installing Chromium from Debian …')
    const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }
    spawnSync('apt-get', ['update', '-q'], { stdio: ['ignore', 'ignore', 2], env })
    spawnSync('apt-get', ['install', '-y', '-q', '--no-install-recommends', 'chromium'], {
      stdio: ['ignore', 'ignore', 2],
      env,
    })
  }
  if (findBrowser() !== undefined) return
  say(help)
  process.exit(2)
}

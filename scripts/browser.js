// @ts-check
import { existsSync } from 'node:fs'
import { delimiter, join } from 'node:path'

/** A browser of the Chromium family on this machine: ACUARELA_BROWSER, else the usual names. Nothing is downloaded. */
export function findBrowser() {
  const asked = process.env.ACUARELA_BROWSER
  if (asked !== undefined && existsSync(asked)) return asked
  const names = ['chromium', 'chromium-browser', 'google-chrome', 'google-chrome-stable']
  for (const folder of (process.env.PATH ?? '').split(delimiter))
    for (const name of names) if (existsSync(join(folder, name))) return join(folder, name)
  const mac = '/Applications/Google Chrome.app/Contents/MacOS/Google Chrome'
  return existsSync(mac) ? mac : undefined
}

/** How it is started: no sandbox for root in a container, and none of the calls home that a closed network refuses. */
export const BROWSER_FLAGS = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
]

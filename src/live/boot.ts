import { openBundle, type ReportBundle } from '../report/transfer/unpack.js'
import { mountIn } from './mount.js'
import { createSession, openSession } from './session/session.js'

/** The bundle of the page, with the lists that it has as bytes. */
async function readPage(text: string, packed: string): Promise<ReportBundle> {
  const bundle = JSON.parse(text) as ReportBundle
  if (packed === '') return bundle
  const { inflated, unpackSources } = await import('../report/transfer/unpack-lists.js')
  return { ...bundle, sources: unpackSources(bundle.sources, await inflated(packed)) }
}

/**
 * Starts the live report of a page from its bundle. If that fails, the page stays as it was
 * written.
 */
const carried = document.getElementById('acuarela')?.textContent
const main = document.querySelector('main')
if (carried != null && main !== null) {
  // The common style sheet stays; that of the cell styles is written again.
  const [, looks] = document.querySelectorAll('style')
  const kept = [...main.childNodes]
  const packed = document.getElementById('acuarela-bytes')?.textContent ?? ''
  // A page with long tables takes a while to decide: its controls come first.
  const early = packed !== ''
  readPage(carried, packed)
    .then(openBundle)
    .then(early ? openSession : createSession)
    .then((session) => mountIn(main, session, { address: true, early }))
    .then(() => looks.remove())
    .catch((error: unknown) => {
      main.replaceChildren(...kept)
      console.error(error)
    })
}

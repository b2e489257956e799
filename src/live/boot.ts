import { openBundle, type ReportBundle } from '../report/transfer/unpack.js'
import { mountIn } from './mount.js'
import { createSession } from './session/session.js'

/** What a page carries of itself comes alive. Where that fails the page stays as it was written. */
const carried = document.getElementById('acuarela')?.textContent
const main = document.querySelector('main')
if (carried != null && main !== null) {
  // The style of every page stays; that of its looks is written anew.
  const [, looks] = document.querySelectorAll('style')
  const kept = [...main.childNodes]
  openBundle(JSON.parse(carried) as ReportBundle)
    .then(createSession)
    .then((session) => mountIn(main, session, { address: true }))
    .then(() => looks.remove())
    .catch((error: unknown) => {
      main.replaceChildren(...kept)
      console.error(error)
    })
}

import { type Carried, openCarried } from '../assemble/carried.js'
import { mountIn } from './mount.js'

/** What a page carries of itself comes alive. Where that fails the page stays as it was written. */
const carried = document.getElementById('acuarela')?.textContent
const main = document.querySelector('main')
if (carried != null && main !== null) {
  const style = document.querySelector('style')
  const kept = [...main.childNodes]
  openCarried(JSON.parse(carried) as Carried)
    .then((bound) => mountIn(main, bound, { address: true }))
    .then(() => style?.remove())
    .catch((error: unknown) => {
      main.replaceChildren(...kept)
      console.error(error)
    })
}

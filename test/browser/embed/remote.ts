import { mountSession } from 'acuarela/live'

const place = document.querySelector<HTMLElement>('#place')
if (place === null) throw new Error('the page has lost its place')
const worker = new Worker(new URL('./remote-worker.ts', import.meta.url), { type: 'module' })
const mounted = await mountSession(place, worker)
Object.assign(window, { mounted })
document.documentElement.dataset.ready = 'yes'

import { mountBundle } from 'acuarela/live'

const place = document.querySelector<HTMLElement>('#place')
if (place === null) throw new Error('the page has lost its place')
const carried = await (await fetch('./carried.json')).text()
const mounted = await mountBundle(place, carried, { parameters: { targetLevel: 1.15 } })
Object.assign(window, { mounted })
document.documentElement.dataset.ready = 'yes'

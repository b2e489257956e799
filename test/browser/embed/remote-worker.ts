import { serveBundle } from 'acuarela/session'

await serveBundle(self, await (await fetch('/bundle.json')).text())

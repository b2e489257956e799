import { createRoot } from 'react-dom/client'
import { App } from './app.js'

const root = document.querySelector('#app')
if (root === null) throw new Error('The page has no place for the workbench.')
createRoot(root).render(<App />)

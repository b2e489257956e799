import { parseHTML } from 'linkedom'

/** A document to draw charts with where there is no browser. */
export function serverDocument(): object {
  return parseHTML('<!doctype html><html><body></body></html>').document
}

import { createContext, useContext, useEffect } from 'react'

/** A part of the report that its user points at, in the lists or in the text of the file. */
export interface Pointed {
  /** `['rules', 2]`, `['measures', 'gap']`. */
  path: readonly (string | number)[]
  from: 'lists' | 'text'
}

interface Pointing {
  pointed: Pointed | null
  point(next: Pointed | null): void
}

export const PointedContext = createContext<Pointing>({ pointed: null, point: () => undefined })

/**
 * Pointing for a list of parts: opens what is pointed at in the text, tells what is opened in the
 * list.
 */
export function usePointed<T extends string | number>(key: string, open: (part: T) => void): (part: T) => void {
  const { pointed, point } = useContext(PointedContext)
  useEffect(() => {
    if (pointed?.from === 'text' && pointed.path[0] === key && pointed.path.length > 1) open(pointed.path[1] as T)
  }, [pointed, key])
  return (part) => point({ path: [key, part], from: 'lists' })
}
